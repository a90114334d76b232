import {
  nextObservations,
  observations,
  observationsFor,
  rankCauses,
  type FaultKind,
  type ObservationId,
  type Observed,
  type RankedCause,
} from '@kavrid/core/faults';
import type { CommandInput } from '@kavrid/core/chain';
import { formatNumber } from '@kavrid/core/quantity';
import { Box, Button, styled, Typography } from '@mui/material';
import { useMemo } from 'react';
import { useAxis } from '../member/useAxis.ts';
import { numberFace } from '../ui/theme.ts';
import { Panel, windowHigh } from '../ui/Panel.tsx';
import { sxOnce } from '../ui/sxOnce.ts';
import { OwnPatterns } from './OwnPatterns.tsx';
import { useKept } from '../ui/useKept.ts';

/** An observation whose answer is expected to tell less than this many bits is not worth the way to the cabinet. */
const worthIt = 0.05;
const shownCauses = 8;

/** What may be wrong at a drive without a link: from what can be seen and metered to ranked causes, and what to look at next. */
export function FaultsView() {
  const { memberId, computation } = useAxis();
  const [observed, setObserved] = useKept<Observed>(`faults.${memberId}`, {});
  const planFindings = useMemo(() => new Set(computation.findings.map(({ id }) => id)), [computation.findings]);
  const kind = faultKindOf(computation.input.command.kind);
  const ranked = useMemo(() => rankCauses(observed, planFindings, kind), [observed, planFindings, kind]);
  const unlisted = Math.max(0, 1 - ranked.reduce((sum, { probability }) => sum + probability, 0));
  const next = useMemo(() => nextObservations(observed, planFindings, kind), [observed, planFindings, kind]);
  const answer = (id: string, given: string | undefined) =>
    setObserved(
      Object.fromEntries(
        Object.entries({ ...observed, [id]: given }).filter(([, each]) => each !== undefined),
      ) as Observed,
    );
  const known = Object.keys(observed).length;
  return (
    <Box sx={{ display: 'grid', gap: 1, gridTemplateColumns: 'minmax(0, 1fr) minmax(0, 1fr)', alignItems: 'start' }}>
      <Panel
        title="What to observe"
        style={windowHigh}
        aside={
          known > 0 && (
            <Button sx={{ py: 0 }} onClick={() => setObserved({})}>
              Start over
            </Button>
          )
        }
      >
        <Observations>
          {[
            ...next.map(({ observation, gain }, k) => ({ observation, isNext: k === 0 && gain > worthIt })),
            ...observationsFor(kind)
              .filter(({ id }) => observed[id as ObservationId] !== undefined)
              .map((observation) => ({ observation, isNext: false })),
          ].map(({ observation, isNext }) => (
            <li key={observation.id} className={isNext ? 'next' : undefined}>
              {isNext && <div className="hint">Check this next: it narrows down the causes most.</div>}
              <div className="question" id={`question-${observation.id}`}>
                {observation.question}
              </div>
              <div className="how">{observation.how}</div>
              {(observation.id === 'alarm' || observation.id === 'ready') && <OwnPatterns />}
              <div className="answers" role="group" aria-labelledby={`question-${observation.id}`}>
                {Object.entries(observation.answers).map(([id, { words }]) => {
                  const isGiven = observed[observation.id as keyof Observed] === id;
                  return (
                    <button
                      key={id}
                      type="button"
                      aria-pressed={isGiven}
                      onClick={() => answer(observation.id, isGiven ? undefined : id)}
                    >
                      {words}
                    </button>
                  );
                })}
              </div>
            </li>
          ))}
        </Observations>
      </Panel>
      <Panel title={known === 0 ? 'Possible causes, before any observation' : 'Possible causes'} style={windowHigh}>
        <Causes aria-label="Causes, most probable first">
          {ranked.slice(0, shownCauses).map((each) => (
            <CauseItem key={each.cause.id} ranked={each} />
          ))}
        </Causes>
        <Typography variant="body2">A cause that is not on this list: {formatNumber(100 * unlisted, 2)} %</Typography>
        <Typography variant="body2" color="text.secondary">
          Ranked by Bayes’ rule over common practice, not by measured rates. Follow the rules of first power: low torque
          limit, a hand at the hardware stop, and a wait of 15 minutes before touching a drive’s terminals.
        </Typography>
      </Panel>
    </Box>
  );
}

function faultKindOf(kind: CommandInput['kind']): FaultKind {
  switch (kind) {
    case 'pulses':
    case 'choice':
      return kind;
    case 'analog':
    case 'pwm':
      return 'scaled';
  }
}

const questionOf = (id: string) => observations.find((each) => each.id === id)?.question ?? id;

function CauseItem({ ranked }: { readonly ranked: RankedCause }) {
  const { cause, probability, isPlanned } = ranked;
  const list = (ids: readonly string[]) => ids.map((id) => `“${questionOf(id)}”`).join(' ');
  return (
    <li>
      <div className="bar">
        <span style={{ width: `${(100 * probability).toFixed(1)}%` }} />
      </div>
      <div className="share">{probability < 0.01 ? '< 1' : (100 * probability).toFixed(0)} %</div>
      <div>
        <strong>{cause.title}</strong>
        {isPlanned && <span className="planned"> A finding in the plan points to this cause.</span>}
        <div className="how">{cause.remedy}</div>
        {ranked.for.length > 0 && <div className="how">For it: {list(ranked.for)}</div>}
        {ranked.against.length > 0 && <div className="how">Against it: {list(ranked.against)}</div>}
      </div>
    </li>
  );
}

const Observations = styled('ul')(
  sxOnce({
    listStyle: 'none',
    m: 0,
    p: 0,
    display: 'grid',
    gap: 1,
    fontSize: 13,
    '& li': { pb: 1, borderBottom: 1, borderColor: 'divider' },
    '& .next': { borderLeft: 3, borderColor: 'warning.main', pl: 1 },
    '& .hint': { color: 'warning.main', fontWeight: 600 },
    '& .question': { fontWeight: 600 },
    '& .how': { color: 'text.secondary', fontSize: 12.5 },
    '& .answers': { display: 'flex', flexWrap: 'wrap', gap: 0.5, mt: 0.5 },
    '& button': {
      font: 'inherit',
      color: 'text.primary',
      bgcolor: 'background.default',
      border: 1,
      borderColor: 'divider',
      borderRadius: 1,
      px: 1,
      py: 0.25,
      cursor: 'pointer',
      '&:focus-visible': { outline: '2px solid', outlineColor: 'primary.main' },
    },
    '& button[aria-pressed=true]': {
      bgcolor: 'primary.main',
      color: 'primary.contrastText',
      borderColor: 'primary.main',
    },
  }),
);

const Causes = styled('ol')(
  sxOnce({
    listStyle: 'none',
    m: 0,
    mb: 1,
    p: 0,
    display: 'grid',
    gap: 1,
    fontSize: 13,
    '& li': { display: 'grid', gridTemplateColumns: '90px 44px 1fr', gap: 1, alignItems: 'start' },
    '& .bar': { height: 12, mt: 0.5, bgcolor: 'background.default', border: 1, borderColor: 'divider' },
    '& .bar span': { display: 'block', height: '100%', bgcolor: 'primary.main' },
    '& .share': { fontFamily: numberFace, textAlign: 'right' },
    '& .how': { color: 'text.secondary', fontSize: 12.5 },
    '& .planned': { color: 'warning.main' },
  }),
);
