import type { ChoiceCommandDocument } from '@kavrid/contract';
import { formatNumber } from '@kavrid/core/quantity';
import {
  edgeActions,
  firstEnable,
  passingMoves,
  patternsOf,
  pickedKinds,
  settlingTime,
  startsOnEdge,
  truthTable,
  type ChoiceInputs,
  type PickedMove,
} from '@kavrid/core/signal';
import { Alert, Box, Button, Typography } from '@mui/material';
import { useState } from 'react';
import { useAxis, useEdit } from '../axis/axisContext.ts';
import { ChoiceDriveFields, ChoiceInputFields, fitted, NamesField } from '../chain/fields/ChoiceInputFields.tsx';
import { Hint, Pair, TextLine } from '../chain/fields/parts.tsx';
import { PointsTable } from '../measure/PointsTable.tsx';
import { numberFace } from '../theme.ts';
import { ChoiceField } from '../ui/ChoiceField.tsx';
import { Panel } from '../ui/Panel.tsx';
import { NumberField } from '../ui/QuantityField.tsx';
import { useShownUnits } from '../ui/units.ts';
import { FactTable } from './FactTable.tsx';

function useChoice(): { readonly typed: ChoiceCommandDocument; readonly choice: ChoiceInputs } {
  const { document, computation } = useAxis();
  const [typed, read] = [document.command, computation.input.command];
  if (typed.kind !== 'choice' || read.kind !== 'choice') throw new Error('No inputs pick the moves of this axis.');
  return { typed, choice: read.choice };
}

/** Which pattern of inputs does what, and what happens on the way from one to the next. */
export function MovesPanel() {
  const [pattern, choose] = useState<string>();
  const { typed, choice } = useChoice();
  const patterns = patternsOf(choice.inputs.length);
  const open = pattern && patterns.includes(pattern) ? pattern : typed.moves[0]?.pattern;
  return (
    <Box sx={{ display: 'grid', gap: 1 }}>
      <Box sx={{ display: 'grid', gap: 1, gridTemplateColumns: 'minmax(0, 3fr) minmax(0, 2fr)', alignItems: 'start' }}>
        <Panel title="Truth table">
          <TruthTable open={open} choose={choose} />
        </Panel>
        <Panel title={open === undefined ? 'A move' : `Move of ${open}`}>
          <MoveFields pattern={open} />
        </Panel>
      </Box>
      <Box sx={{ display: 'grid', gap: 1, gridTemplateColumns: '1fr 1fr', alignItems: 'start' }}>
        <Panel title="Inputs and when they count">
          <Box sx={{ display: 'grid', gap: 1.25, pt: 0.5 }}>
            <ChoiceInputFields command={typed} />
            <ChoiceDriveFields command={typed} />
          </Box>
        </Panel>
        <Box sx={{ display: 'grid', gap: 1 }}>
          <Panel title="What happens">
            <Happens />
          </Panel>
          <Panel title="Edges of inputs">
            <Edges />
          </Panel>
          <Panel title="Torque limits switched by inputs">
            <TorqueLimits />
          </Panel>
        </Box>
      </Box>
    </Box>
  );
}

function TruthTable({
  open,
  choose,
}: {
  readonly open: string | undefined;
  readonly choose: (pattern: string) => void;
}) {
  const { choice } = useChoice();
  const { computation } = useAxis();
  const units = useShownUnits(computation.input);
  const u = units.name('{u}');
  const cell = (value: number | undefined, template: string) =>
    value === undefined ? '' : formatNumber(units.shown(value, template), 5);
  return (
    <Box
      component="table"
      aria-label="Truth table"
      sx={{
        borderCollapse: 'collapse',
        width: '100%',
        fontSize: 12.5,
        '& th': { textAlign: 'left', fontWeight: 600, pr: 0.75 },
        '& td': { borderTop: 1, borderColor: 'divider', pr: 0.75, py: 0.25 },
        '& .number': { textAlign: 'right', fontFamily: numberFace },
        '& tr.open td': { bgcolor: 'action.selected' },
        '& button': { all: 'unset', cursor: 'pointer', fontFamily: numberFace, textDecoration: 'underline' },
        '& button:focus-visible': { outline: '2px solid', outlineColor: 'primary.main' },
      }}
    >
      <thead>
        <tr>
          <th scope="col">{choice.inputs.join(' ')}</th>
          <th scope="col">does</th>
          <th scope="col" className="number">
            to, {u}
          </th>
          <th scope="col" className="number">
            {u}/s
          </th>
          <th scope="col" className="number">
            {u}/s²
          </th>
          <th scope="col" className="number">
            torque, %
          </th>
          <th scope="col" className="number">
            window
          </th>
        </tr>
      </thead>
      <tbody>
        {truthTable(choice).map((move) => (
          <tr key={move.pattern} className={move.pattern === open ? 'open' : undefined}>
            <td>
              <button type="button" onClick={() => choose(move.pattern)} aria-pressed={move.pattern === open}>
                {move.pattern}
              </button>
              {move.pattern === choice.patternAtEnable && ' at enable'}
            </td>
            <td>
              {move.kind}
              {move.name && ` (${move.name})`}
            </td>
            <td className="number">{cell(move.target, '{u}')}</td>
            <td className="number">{cell(move.speed, '{u}/s')}</td>
            <td className="number">{cell(move.acceleration, '{u}/s²')}</td>
            <td className="number">{cell(move.torqueLimit, '%')}</td>
            <td className="number">{cell(move.window, '{u}')}</td>
          </tr>
        ))}
      </tbody>
    </Box>
  );
}

type Move = ChoiceCommandDocument['moves'][number];

/** The fields that a kind of move has. */
const fieldsOf: Readonly<Record<PickedMove['kind'], readonly (keyof Move)[]>> = {
  nothing: [],
  position: ['target', 'speed', 'acceleration', 'deceleration', 'torqueLimit', 'window'],
  distance: ['target', 'speed', 'acceleration', 'deceleration', 'torqueLimit', 'window'],
  speed: ['speed', 'acceleration', 'deceleration', 'torqueLimit'],
  'motion plan': ['torqueLimit', 'window'],
  'push to torque': ['speed', 'acceleration', 'torqueLimit'],
  'fenced jog': ['fence', 'target', 'speed', 'acceleration', 'torqueLimit'],
  'follow analog': ['speed', 'acceleration', 'torqueLimit'],
  home: [],
};

const fieldWords = {
  target: ['Where to', 'position'],
  fence: ['Near fence', 'position'],
  speed: ['Speed', 'anySpeed'],
  acceleration: ['Acceleration', 'acceleration'],
  deceleration: ['Deceleration', 'acceleration'],
  torqueLimit: ['Torque limit', 'percent'],
  window: ['In-position window', 'distance'],
} as const;

function MoveFields({ pattern }: { readonly pattern: string | undefined }) {
  const { typed } = useChoice();
  const edit = useEdit();
  if (pattern === undefined) return <Hint>Choose a pattern to say what it does.</Hint>;
  const index = typed.moves.findIndex((move) => move.pattern === pattern);
  const move = typed.moves[index];
  const setKind = (kind: PickedMove['kind']) => {
    if (kind === 'nothing')
      edit(
        ['command', 'moves'],
        typed.moves.filter((each) => each.pattern !== pattern),
      );
    else if (move) edit(['command', 'moves', index, 'kind'], kind);
    else edit(['command', 'moves'], [...typed.moves, { ...blank, pattern, kind }]);
  };
  return (
    <Box sx={{ display: 'grid', gap: 1.25, pt: 0.5 }}>
      <ChoiceField
        label="It does this"
        value={move?.kind ?? 'nothing'}
        choices={pickedKinds.map((value) => ({ value, label: value }))}
        onChange={setKind}
      />
      {move && (
        <>
          <TextLine label="Its name" path={['command', 'moves', index, 'name']} value={move.name} />
          <Pair>
            {fieldsOf[move.kind].map((field) => {
              const [label, rule] = fieldWords[field as keyof typeof fieldWords];
              return <NumberField key={field} label={label} path={['command', 'moves', index, field]} rule={rule} />;
            })}
          </Pair>
        </>
      )}
    </Box>
  );
}

const blank: Omit<Move, 'pattern' | 'kind'> = {
  name: '',
  target: null,
  fence: null,
  speed: null,
  acceleration: null,
  deceleration: null,
  torqueLimit: null,
  window: null,
};

function Happens() {
  const { typed, choice } = useChoice();
  const edit = useEdit();
  const first = firstEnable(choice);
  const passing = passingMoves(choice);
  const told = first.map((each) => (each === 'home' ? 'homes' : `does “${each.name || each.kind}” by itself`));
  const moves = first.some((each) => each !== 'home');
  return (
    <Box sx={{ display: 'grid', gap: 1 }}>
      <ChoiceField
        label="Pattern that stands at enable"
        value={patternsOf(choice.inputs.length).includes(typed.patternAtEnable) ? typed.patternAtEnable : ''}
        choices={patternsOf(choice.inputs.length).map((value) => ({ value, label: value }))}
        onChange={(value) => edit(['command', 'patternAtEnable'], value)}
      />
      <Alert severity={moves ? 'error' : first.length > 0 ? 'warning' : 'success'} sx={{ py: 0 }}>
        {first.length === 0
          ? 'At the first enable the axis stands still.'
          : `At the first enable the axis ${told.join(', then ')}.`}
      </Alert>
      <FactTable
        label="Settling"
        rows={[
          {
            what: startsOnEdge(choice)
              ? 'The pattern stands before the start by'
              : 'From a change to the start, at most',
            is: `${formatNumber(1000 * settlingTime(choice), 4)} ms`,
            strong: true,
          },
        ]}
      />
      {passing.length > 0 ? (
        <Box component="ul" aria-label="On the way" sx={{ m: 0, pl: 2.25, fontSize: 12.5 }}>
          {passing.slice(0, 6).map(({ from, to, through }) => (
            <li key={`${from}${to}${through.pattern}`}>
              From {from} to {to} it may do {through.pattern}: {through.name || through.kind}
            </li>
          ))}
          {passing.length > 6 && <li>and {passing.length - 6} more</li>}
        </Box>
      ) : (
        <Typography variant="body2" color="text.secondary">
          While inputs change one by one, nothing else is picked.
        </Typography>
      )}
    </Box>
  );
}

function Edges() {
  const { typed } = useChoice();
  const edit = useEdit();
  return (
    <Box sx={{ display: 'grid', gap: 1.5, pt: 0.5 }}>
      {typed.edges.map((edge, index) => (
        <Pair key={index}>
          <TextLine
            label={`Input of edge ${index + 1}`}
            path={['command', 'edges', index, 'input']}
            value={edge.input}
          />
          <ChoiceField
            label={`Edge ${index + 1}`}
            value={edge.edge}
            choices={[
              { value: 'rising', label: 'rising' },
              { value: 'falling', label: 'falling' },
            ]}
            onChange={(value) => edit(['command', 'edges', index, 'edge'], value)}
          />
          <ChoiceField
            label={`Edge ${index + 1} does`}
            value={edge.action}
            choices={edgeActions.map((value) => ({ value, label: value }))}
            onChange={(value) => edit(['command', 'edges', index, 'action'], value)}
          />
          <Button
            color="error"
            aria-label={`Remove edge ${index + 1}`}
            onClick={() =>
              edit(
                ['command', 'edges'],
                typed.edges.filter((_, k) => k !== index),
              )
            }
          >
            Remove
          </Button>
        </Pair>
      ))}
      <Button
        onClick={() =>
          edit(['command', 'edges'], [...typed.edges, { input: '', edge: 'rising', action: 'start the picked move' }])
        }
      >
        Add an edge
      </Button>
    </Box>
  );
}

function TorqueLimits() {
  const { typed } = useChoice();
  const edit = useEdit();
  return (
    <Box sx={{ display: 'grid', gap: 1 }}>
      <NamesField
        label="Inputs that pick it"
        names={typed.torqueInputs}
        change={(torqueInputs) =>
          edit(['command'], { ...typed, torqueInputs, torqueLimits: fitted(typed.torqueLimits, torqueInputs.length) })
        }
        most={4}
        least={0}
      />
      {typed.torqueInputs.length > 0 && (
        <PointsTable
          label="Torque limits"
          path={['command', 'torqueLimits']}
          rows={typed.torqueLimits}
          columns={[
            {
              field: 'pattern',
              title: 'Pattern',
              choices: patternsOf(typed.torqueInputs.length).map((value) => ({ value, label: value })),
            },
            { field: 'limit', title: 'Limit, %', rule: 'percent' },
          ]}
          blank={{ pattern: patternsOf(typed.torqueInputs.length)[typed.torqueLimits.length] ?? '0', limit: null }}
          what="limit"
        />
      )}
    </Box>
  );
}
