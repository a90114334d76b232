import type { ChoiceCommandDocument } from '@kavrid/contract';
import { moveFields, pickedKinds, type PickedMove } from '@kavrid/core/signal';
import { pushingForce } from '@kavrid/core/chain';
import { formatNumber } from '@kavrid/core/quantity';
import { Box } from '@mui/material';
import { useAxis } from '../member/useAxis.ts';
import { useEdit } from '../member/memberContext.ts';
import { Hint, Pair } from '../ui/fieldParts.tsx';
import { TextLine } from '../member/TextLine.tsx';
import { DocumentChoice } from '../member/DocumentChoice.tsx';
import { ChoiceField } from '../ui/ChoiceField.tsx';
import { NumberField } from '../member/QuantityField.tsx';
import { useChoiceCommand } from './useChoiceCommand.ts';

type Move = ChoiceCommandDocument['moves'][number];

const fieldWords = {
  target: ['Target position', 'position'],
  distance: ['Distance', 'position'],
  farFence: ['Far fence', 'position'],
  fence: ['Near fence', 'position'],
  speed: ['Speed', 'anySpeed'],
  acceleration: ['Acceleration', 'acceleration'],
  deceleration: ['Deceleration', 'acceleration'],
  torqueLimit: ['Torque limit', 'percent'],
  window: ['In-position window', 'distance'],
} as const;

/** What the move of a pattern is. */
export function MoveFields({ pattern }: { readonly pattern: string | undefined }) {
  const { typed } = useChoiceCommand();
  const edit = useEdit();
  if (pattern === undefined) return <Hint>Select a pattern to enter its move.</Hint>;
  const index = typed.moves.findIndex((move) => move.pattern === pattern);
  const move = typed.moves[index];
  const setKind = (kind: PickedMove['kind']) => {
    if (kind === 'nothing')
      edit(
        ['command', 'moves'],
        typed.moves.filter((each) => each.pattern !== pattern),
      );
    else if (move) edit(['command', 'moves', index], ofKind(move, kind));
    else edit(['command', 'moves'], [...typed.moves, { ...blank, pattern, kind }]);
  };
  return (
    <Box sx={{ display: 'grid', gap: 1.25, pt: 0.5 }}>
      <ChoiceField
        field={`/command/moves/${index}`}
        label="Type of move"
        value={move?.kind ?? 'nothing'}
        choices={pickedKinds.map((value) => ({ value, label: value }))}
        onChange={setKind}
      />
      {move && (
        <>
          <TextLine label="Name of the move" path={['command', 'moves', index, 'name']} value={move.name} />
          <Pair>
            {moveFields[move.kind].map((field) => {
              const [label, rule] = fieldWords[field === 'target' ? targetWords(move.kind) : field];
              return <NumberField key={field} label={label} path={['command', 'moves', index, field]} rule={rule} />;
            })}
          </Pair>
          {move.kind === 'follow analog' && <FollowFields index={index} armingInput={move.armingInput} />}
          {move.kind === 'move until torque' && <PushingForce percent={move.torqueLimit} />}
        </>
      )}
    </Box>
  );
}

const targetWords = (kind: PickedMove['kind']) =>
  kind === 'distance' ? 'distance' : kind === 'fenced jog' ? 'farFence' : 'target';

/** The move as another kind: what that one has not is emptied. */
const ofKind = (move: Move, kind: PickedMove['kind']): Move => ({
  ...blank,
  ...Object.fromEntries(moveFields[kind].map((field) => [field, move[field]])),
  pattern: move.pattern,
  name: move.name,
  kind,
});

/** What the signal means, and what arms it. */
function FollowFields({ index, armingInput }: { readonly index: number; readonly armingInput: string }) {
  const path = <Field extends keyof Move>(field: Field) => ['command', 'moves', index, field] as const;
  const { signalUnit } = useChoiceCommand().typed;
  return (
    <>
      <DocumentChoice
        label="Analog signal unit"
        path={['command', 'signalUnit']}
        value={signalUnit}
        choices={(['V', 'mA'] as const).map((value) => ({ value, label: value }))}
        help="of every move that follows the signal"
      />
      <Pair>
        <NumberField label={`Signal at A, ${signalUnit}`} path={path('signalFrom')} rule="anySignal" />
        <NumberField label="Position at A" path={path('valueFrom')} rule="position" />
        <NumberField label={`Signal at B, ${signalUnit}`} path={path('signalTo')} rule="anySignal" />
        <NumberField label="Position at B" path={path('valueTo')} rule="position" />
      </Pair>
      <TextLine label="Arming input" path={path('armingInput')} value={armingInput} />
    </>
  );
}

/** The force or torque at the load that a torque limit comes to. */
function PushingForce({ percent }: { readonly percent: number | null }) {
  const { document, computation } = useAxis();
  const force = pushingForce(computation.results, percent);
  if (force === undefined)
    return <Hint>Force at the load: not known until the torque limit and the mechanics have been entered.</Hint>;
  const unit = document.motion.kind === 'linear' ? 'N' : 'N·m';
  return (
    <Hint>
      Force at the load about {formatNumber(force, 3)} {unit}, without friction and gravity.
    </Hint>
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
  signalFrom: null,
  valueFrom: null,
  signalTo: null,
  valueTo: null,
  armingInput: '',
};
