import { FindingList } from '../ui/FindingList.tsx';
import { Panel } from '../ui/Panel.tsx';
import { spindlePlace } from '../member/spindlePlaces.ts';
import { useSpindle } from '../member/useSpindle.ts';
import { spindleTopicOf, type SpindleTopic } from '../member/spindleTopics.ts';

/** What is wrong or worth knowing of one topic. */
export function TopicFindings({ topic }: { readonly topic: SpindleTopic }) {
  const own = useSpindle().computation.findings.filter((finding) => spindleTopicOf(finding) === topic);
  return (
    <Panel title={`Findings here (${own.length})`}>
      <FindingList findings={own} placeOf={spindlePlace} />
    </Panel>
  );
}
