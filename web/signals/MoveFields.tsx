import type { ChoiceCommandDocument } from '@kavrid/contract';
import { pickedKinds, type PickedMove } from '@kavrid/core/signal';
import { Box } from '@mui/material';
import { useEdit } from '../member/memberContext.ts';
import { Hint, Pair, TextLine } from '../chain/fields/parts.tsx';
import { ChoiceField } from '../ui/ChoiceField.tsx';
import { NumberField } from '../ui/QuantityField.tsx';
import { useChoiceCommand } from './useChoiceCommand.ts';

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

/** What the move of a pattern is. */
export function MoveFields({ pattern }: { readonly pattern: string | undefined }) {
  const { typed } = useChoiceCommand();
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
