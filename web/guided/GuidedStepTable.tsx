import type { ShownStep } from '@kavrid/contract';
import { Box, ButtonBase } from '@mui/material';
import { verdictOf } from './verdictOf.ts';

/** The steps in their order, by phase, with how each has come out. */
export function GuidedStepTable({
  steps,
  chosen,
  underWay,
  onChoose,
}: {
  readonly steps: readonly ShownStep[];
  readonly chosen: string | undefined;
  readonly underWay: string | undefined;
  readonly onChoose: (id: string) => void;
}) {
  const phases = [...new Set(steps.map(({ phase }) => phase))];
  return (
    <>
      {phases.map((phase) => (
        <Box key={phase} component="section" aria-label={phase} sx={{ mb: 0.75 }}>
          <Box component="h3" sx={{ m: 0, fontSize: 12.5, fontWeight: 600, color: 'text.secondary' }}>
            {phase}
          </Box>
          <Box component="ol" sx={{ m: 0, p: 0, listStyle: 'none' }}>
            {steps
              .filter((step) => step.phase === phase)
              .map((step) => {
                const { words, colour } = verdictOf(step, step.id === underWay);
                return (
                  <li key={step.id}>
                    <ButtonBase
                      aria-current={step.id === chosen ? 'step' : undefined}
                      disabled={underWay !== undefined && step.id !== underWay}
                      onClick={() => onChoose(step.id)}
                      sx={{
                        width: '100%',
                        display: 'flex',
                        justifyContent: 'space-between',
                        gap: 1,
                        px: 0.75,
                        py: 0.2,
                        fontSize: 13,
                        fontFamily: 'inherit',
                        textAlign: 'left',
                        borderLeft: 3,
                        borderColor: step.id === chosen ? 'primary.main' : 'transparent',
                        bgcolor: step.id === chosen ? 'action.selected' : undefined,
                      }}
                    >
                      <span>{step.title}</span>
                      <Box
                        component="span"
                        sx={{ color: colour, fontWeight: 600, whiteSpace: 'nowrap', fontSize: 12.5 }}
                      >
                        {words}
                      </Box>
                    </ButtonBase>
                  </li>
                );
              })}
          </Box>
        </Box>
      ))}
    </>
  );
}
