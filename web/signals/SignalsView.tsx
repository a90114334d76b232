import type { Finding } from '@kavrid/core/findings';
import { Box, Tab, Tabs } from '@mui/material';
import { useAxis } from '../member/useAxis.ts';
import { topicsFor } from '../chain/commandFaces.tsx';
import { axisPlace } from '../member/axisPlaces.ts';
import { useAt } from '../member/useAt.ts';
import { isAbout, signalTopicTitles, type SignalTopic } from '../member/signalTopics.ts';
import { FindingList, severityLook } from '../ui/FindingList.tsx';
import { Panel } from '../ui/Panel.tsx';
import { CablePanel } from './CablePanel.tsx';
import { DirectionPanel } from './DirectionPanel.tsx';
import { LevelsPanel } from './LevelsPanel.tsx';
import { LoopPanel } from './LoopPanel.tsx';
import { MovesPanel } from './MovesPanel.tsx';
import { ProtectionPanel } from './ProtectionPanel.tsx';
import { PinOut } from './PinOut.tsx';
import { PulsesPanel } from './PulsesPanel.tsx';
import { ScalePanel } from './ScalePanel.tsx';
import { WiresPanel } from './WiresPanel.tsx';
import { ZeroPanel } from './ZeroPanel.tsx';

/** Signals: what is settled before anything is wired, a topic at a time. */
export function SignalsView() {
  const { computation, document } = useAxis();
  const [chosen, choose] = useAt();
  const topics = topicsFor(document.command);
  const open = topics.find((topic) => topic === chosen) ?? 'direction';
  const own = (topic: SignalTopic) => computation.findings.filter((finding) => isAbout(topic, finding, topics));
  return (
    <Box sx={{ display: 'grid', gap: 1, gridTemplateColumns: 'minmax(0, 1fr) 330px', alignItems: 'start' }}>
      <Box sx={{ display: 'grid', gap: 1 }}>
        <Tabs
          value={open}
          onChange={(_, topic: SignalTopic) => choose(topic)}
          aria-label="Signals"
          sx={{ borderBottom: 1, borderColor: 'divider' }}
        >
          {topics.map((topic) => (
            <Tab
              key={topic}
              value={topic}
              label={<TopicTitle title={signalTopicTitles[topic]} worst={own(topic)[0]} />}
            />
          ))}
        </Tabs>
        <Box role="tabpanel" aria-label={signalTopicTitles[open]}>
          <OpenTopic topic={open} />
        </Box>
      </Box>
      <Panel title="Findings">
        <FindingList findings={own(open)} placeOf={(path) => axisPlace(document, path)} />
      </Panel>
    </Box>
  );
}

function OpenTopic({ topic }: { readonly topic: SignalTopic }) {
  switch (topic) {
    case 'direction':
      return <DirectionPanel />;
    case 'pulses':
      return <PulsesPanel />;
    case 'levels':
      return <LevelsPanel />;
    case 'cable':
      return (
        <Box sx={{ display: 'grid', gap: 1, gridTemplateColumns: '1fr 1fr', alignItems: 'start' }}>
          <CablePanel />
          <PinOut />
        </Box>
      );
    case 'scale':
      return <ScalePanel />;
    case 'zero':
      return <ZeroPanel />;
    case 'loop':
      return <LoopPanel />;
    case 'moves':
      return <MovesPanel />;
    case 'protection':
      return <ProtectionPanel />;
    case 'wires':
      return <WiresPanel />;
  }
}

function TopicTitle({ title, worst }: { readonly title: string; readonly worst: Finding | undefined }) {
  return (
    <Box component="span" sx={{ display: 'flex', alignItems: 'center', gap: 0.75 }}>
      {title}
      {worst && (
        <Box
          component="span"
          role="img"
          aria-label={severityLook[worst.severity].word}
          sx={{ width: 9, height: 9, borderRadius: '50%', bgcolor: severityLook[worst.severity].colour }}
        />
      )}
    </Box>
  );
}
