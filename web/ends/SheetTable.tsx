import type { KeyInRow, SheetStep } from '@kavrid/core/drive';
import { Box, Checkbox, styled } from '@mui/material';
import { memo } from 'react';
import { useEdit, useMember } from '../member/memberContext.ts';
import { numberFace } from '../ui/theme.ts';
import { ChoiceField } from '../ui/ChoiceField.tsx';
import { sxOnce } from '../ui/sxOnce.ts';
import { useSteady } from '../ui/useSteady.ts';
import { tickOf, tickStart, type End, type EndState } from './useEndSheets.ts';

export const stepTitles: Readonly<Record<SheetStep, string>> = {
  switches: 'Switches, with the supply off',
  unlocks: 'Unlock',
  'factory reset': 'Factory reset, if wanted: it erases every value',
  'resets others': 'Values that reset others',
  value: 'Values',
  stores: 'Store',
  restarts: 'Restart',
  checks: 'Check',
};

/** One end's sheet, in the order to key it in; ticks, found values and notes are kept with the axis. */
export function SheetTable({ state }: { readonly state: EndState }) {
  const { document } = useMember();
  const edit = useEdit();
  const { end, rows, found, wrong } = state;
  const { done, notes, given } = document.keying;
  const tick = useSteady((row: KeyInRow, isDone: boolean) => {
    const mark = tickOf(end, row);
    const others = done.filter((each) => !each.startsWith(tickStart(end, row)));
    edit(['keying', 'done'], isDone ? [...others, mark] : others);
  });
  const type = useSteady((list: TypedList, code: string, text: string) =>
    edit(['keying', list, `${end}/${code}`], text),
  );
  return (
    <>
      <KeyIn aria-label={`Key-in sheet of the ${end}`}>
        <thead>
          <tr>
            <th aria-label="Done" />
            <th>Code</th>
            <th>Name</th>
            <th>Key in</th>
            <th>Found</th>
            <th>Your note</th>
          </tr>
        </thead>
        <tbody>
          {rows.map((row, index) => (
            <SheetRow
              key={`${row.step}/${row.code}/${row.label}/${row.isAgain ?? false}`}
              end={end}
              row={row}
              heading={rows[index - 1]?.step === row.step ? undefined : stepTitles[row.step]}
              isDone={done.includes(tickOf(end, row))}
              isWrong={wrong.some(({ code }) => code === row.code)}
              given={row.isGiven ? (given[`${end}/${row.code}`] ?? '') : undefined}
              found={found[row.code] ?? ''}
              note={notes[`${end}/${row.code}`] ?? ''}
              tick={tick}
              type={type}
            />
          ))}
        </tbody>
      </KeyIn>
      <OtherValues state={state} />
    </>
  );
}

type TypedList = 'found' | 'notes' | 'given';

/** Puts a value on the sheet that means nothing to Kavrid, such as the number of a motor. */
function OtherValues({ state: { end, others } }: { readonly state: EndState }) {
  const edit = useEdit();
  if (others.length === 0) return null;
  return (
    <Box sx={{ mt: 1.5, maxWidth: 420 }}>
      <ChoiceField
        label="Add a value from the list"
        value=""
        choices={others.map(({ code, label }) => ({ value: code, label: code === label ? code : `${code} ${label}` }))}
        onChange={(code) => edit(['keying', 'given', `${end}/${code}`], '')}
      />
    </Box>
  );
}

const SheetRow = memo(function SheetRow(props: {
  readonly end: End;
  readonly row: KeyInRow;
  readonly heading: string | undefined;
  readonly isDone: boolean;
  readonly isWrong: boolean;
  /** The user's own number; undefined where the plan says what to key. */
  readonly given: string | undefined;
  readonly found: string;
  readonly note: string;
  readonly tick: (row: KeyInRow, isDone: boolean) => void;
  readonly type: (list: TypedList, code: string, text: string) => void;
}) {
  const { row, heading, isDone, isWrong, given, found, note, tick, type } = props;
  const { code, label, key, unit, meaning, shows, because, step } = row;
  return (
    <>
      {heading && (
        <tr className="heading">
          <th colSpan={6}>{heading}</th>
        </tr>
      )}
      <tr className={isDone ? 'done' : undefined} data-code={code}>
        <td>
          <Checkbox
            size="small"
            sx={{ p: 0.25 }}
            checked={isDone}
            onChange={(_, checked) => tick(row, checked)}
            slotProps={{ input: { 'aria-label': `${label} is keyed in` } }}
          />
        </td>
        <td className="code">{code === label ? '' : code}</td>
        <td>
          {label}
          <div className="small">{[meaning, shows && `display: ${shows}`, row.note].filter(Boolean).join(' · ')}</div>
          {because && <div className="bad">Cannot be keyed: {because}.</div>}
        </td>
        <td className="key">
          {given === undefined ? (
            (key ?? '—')
          ) : (
            <input
              aria-label={`Number to key at ${label}`}
              value={given}
              placeholder={key}
              maxLength={60}
              onChange={({ target }) => type('given', code, target.value)}
            />
          )}{' '}
          {(key !== undefined || given !== undefined) && <span className="small">{unit}</span>}
        </td>
        <td>
          {(step === 'value' || step === 'switches') && key !== undefined && (
            <input
              aria-label={`Found at ${label}`}
              aria-invalid={isWrong}
              value={found}
              maxLength={60}
              onChange={({ target }) => type('found', code, target.value)}
            />
          )}
        </td>
        <td>
          <input
            aria-label={`Note on ${label}`}
            value={note}
            maxLength={300}
            className="note"
            onChange={({ target }) => type('notes', code, target.value)}
          />
        </td>
      </tr>
    </>
  );
});

const KeyIn = styled('table')(
  sxOnce({
    width: '100%',
    borderCollapse: 'collapse',
    fontSize: 13,
    '& th': { textAlign: 'left', fontWeight: 600, px: 0.75, py: 0.25 },
    '& td': { px: 0.75, py: 0.25, borderTop: 1, borderColor: 'divider', verticalAlign: 'top' },
    '& .heading th': { color: 'text.secondary', pt: 1 },
    '& .code, & .key': { fontFamily: numberFace, fontSize: 12.5, whiteSpace: 'nowrap' },
    '& .key': { fontWeight: 600, color: 'primary.main', whiteSpace: 'normal', maxWidth: 150 },
    '& .small': { color: 'text.secondary', fontSize: 12, fontWeight: 400 },
    '& .bad': { color: 'error.main', fontSize: 12 },
    '& .done td': { bgcolor: 'action.selected' },
    '& input:not([type=checkbox])': {
      font: 'inherit',
      fontFamily: numberFace,
      fontSize: 12.5,
      color: 'text.primary',
      bgcolor: 'background.default',
      border: 1,
      borderColor: 'divider',
      borderRadius: 0.5,
      width: 110,
      px: 0.5,
      py: '2px',
      '&:focus-visible': { outline: '2px solid', outlineColor: 'primary.main' },
      '&[aria-invalid=true]': { borderColor: 'error.main', color: 'error.main' },
    },
    '& input.note:not([type=checkbox])': { fontFamily: 'inherit', width: 150 },
  }),
);
