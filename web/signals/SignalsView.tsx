import type { Finding } from '@kavrid/core/findings';
import { Box } from '@mui/material';
import { useState } from 'react';
import { useAxis } from '../member/useAxis.ts';
import { isAbout, topicsFor, type SignalTopic } from '../axis/signalTopics.ts';
import { FindingList, severityLook } from '../ui/FindingList.tsx';
import { Panel } from '../ui/Panel.tsx';
import { DirectionPanel } from './DirectionPanel.tsx';
import { LevelsPanel } from './LevelsPanel.tsx';
import { LoopPanel } from './LoopPanel.tsx';
import { MovesPanel } from './MovesPanel.tsx';
import { ProtectionPanel } from './ProtectionPanel.tsx';
import { PulsesPanel } from './PulsesPanel.tsx';
import { ScalePanel } from './ScalePanel.tsx';
import { ZeroPanel } from './ZeroPanel.tsx';

const titles: Readonly<Record<SignalTopic, string>> = {
  direction: 'Direction',
  pulses: 'Pulses',
  levels: 'Levels and cable',
  scale: 'Scale',
  zero: 'Zero and calibration',
  loop: 'Position loop in the controller',
  moves: 'Moves picked by inputs',
  protection: 'Enable, alarm, limits',
};

/** Signals: what is settled before anything is wired, a topic at a time. */
export function SignalsView() {
  const { computation } = useAxis();
  const [chosen, setOpen] = useState<SignalTopic>('direction');
  const topics = topicsFor(computation.input);
  const open = topics.includes(chosen) ? chosen : 'direction';
  const own = (topic: SignalTopic) => computation.findings.filter((finding) => isAbout(topic, finding, topics));
  return (
    <Box sx={{ display: 'grid', gap: 1, gridTemplateColumns: 'minmax(0, 1fr) 330px', alignItems: 'start' }}>
      <Box sx={{ display: 'grid', gap: 1 }}>
        <Box
          role="tablist"
          aria-label="Signals"
          sx={{ display: 'flex', gap: 0.5, borderBottom: 1, borderColor: 'divider' }}
        >
          {topics.map((topic) => (
            <TopicTab
              key={topic}
              title={titles[topic]}
              worst={own(topic)[0]}
              isOpen={open === topic}
              choose={() => setOpen(topic)}
            />
          ))}
        </Box>
        <Box role="tabpanel" aria-label={titles[open]}>
          <OpenTopic topic={open} />
        </Box>
      </Box>
      <Panel title="Findings">
        <FindingList findings={own(open)} />
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
  }
}

function TopicTab(props: {
  readonly title: string;
  readonly worst: Finding | undefined;
  readonly isOpen: boolean;
  readonly choose: () => void;
}) {
  const { title, worst, isOpen, choose } = props;
  return (
    <Box
      component="button"
      type="button"
      role="tab"
      aria-selected={isOpen}
      onClick={choose}
      sx={{
        font: 'inherit',
        fontSize: 14,
        fontWeight: 600,
        px: 1.25,
        py: 0.5,
        color: isOpen ? 'primary.main' : 'text.primary',
        bgcolor: 'transparent',
        border: 0,
        borderBottom: 3,
        borderColor: isOpen ? 'primary.main' : 'transparent',
        cursor: 'pointer',
        display: 'flex',
        alignItems: 'center',
        gap: 0.75,
      }}
    >
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
