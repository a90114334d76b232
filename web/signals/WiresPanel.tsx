import { pointerOf, wiresOf, type AxisDocument, type EntryRecord } from '@kavrid/contract';
import type { Finding } from '@kavrid/core/findings';
import {
  doubledTerminals,
  looseWires,
  terminalProblems,
  type Terminal,
  type TerminalProblem,
  type Wire,
  type WireEnd,
} from '@kavrid/core/signal';
import { Alert, Box, styled, TextField, Typography } from '@mui/material';
import { skipToken } from '@reduxjs/toolkit/query';
import { useReadEntryQuery } from '../store/api.ts';
import { useEdit } from '../member/memberContext.ts';
import { useAxis } from '../member/useAxis.ts';
import { NumberField } from '../member/QuantityField.tsx';
import { severityLook } from '../ui/FindingList.tsx';
import { Hint } from '../ui/fieldParts.tsx';
import { Panel } from '../ui/Panel.tsx';
import { sxOnce } from '../ui/sxOnce.ts';

const Table = styled('table')(
  sxOnce({
    borderCollapse: 'collapse',
    width: '100%',
    fontSize: 12.5,
    '& th': { textAlign: 'left', fontWeight: 600, py: 0.5, pr: 1, verticalAlign: 'bottom' },
    '& tbody th': { fontWeight: 400 },
    '& td, & tbody th': { py: 0.25, pr: 1, borderTop: 1, borderColor: 'divider', verticalAlign: 'middle' },
    '& .unsafe': { color: 'error.main', fontWeight: 600 },
    '& .end': { display: 'block', color: 'text.secondary', whiteSpace: 'nowrap', fontSize: 11.5, lineHeight: 1.2 },
    '& .length': { width: 72 },
    '& .check': { whiteSpace: 'nowrap' },
    '& input': { fontSize: 12.5, py: 0 },
  }),
);

type WireNote = AxisDocument['wires'][string];
const blank: WireNote = { from: '', to: '', core: '', length: null };

/** Every wire of the axis from terminal to terminal, with what happens when it breaks. */
export function WiresPanel() {
  const { document, computation } = useAxis();
  const wires = wiresOf(document);
  const doubled = doubledTerminals(wires, document.wires);
  const terminals = useTerminals();
  return (
    <Panel title="Wires of this axis">
      <Hint>
        The wires follow from how the axis is commanded, enabled, guarded and homed. Enter the terminal at each end as
        it is marked on the device.
      </Hint>
      {doubled.map(({ end, terminal, wires: labels }) => (
        <Alert key={`${end} ${terminal}`} severity="error" sx={{ py: 0, my: 0.5 }}>
          {`Terminal ${terminal} of the ${end} is given to ${labels.join(' and ')}.`}
        </Alert>
      ))}
      {looseWires(wires, document.wires).map(({ label, end, terminal, open }) => (
        <Alert key={label} severity="warning" sx={{ py: 0, my: 0.5 }}>
          {`${label}: terminal ${terminal} of the ${end} is named, but none of the ${open}. Enter where the wire ends there.`}
        </Alert>
      ))}
      {(['drive', 'controller'] as const)
        .flatMap((device) => terminalProblems(device, terminals[device], wires, document.wires))
        .map((problem) => (
          <Alert
            key={`${problem.kind} ${problem.device} ${problem.terminal}`}
            severity={problem.kind === 'needed' ? 'warning' : 'error'}
            sx={{ py: 0, my: 0.5 }}
          >
            {problemText(problem)}
          </Alert>
        ))}
      {(['drive', 'controller'] as const).map((device) => (
        <datalist key={device} id={`terminals of the ${device}`}>
          {terminals[device].map(({ name, use }) => (
            <option key={name} value={name} label={use} />
          ))}
        </datalist>
      ))}
      <Table aria-label="Wires">
        <thead>
          <tr>
            {['Signal', 'From', 'To', 'Core', 'Length', 'When it breaks', 'Check'].map((title) => (
              <th key={title} scope="col">
                {title}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {wires.map((wire) => (
            <WireRow key={wire.key} wire={wire} worst={worstOf(wire, computation.findings)} />
          ))}
        </tbody>
      </Table>
      {document.protection.safeTorqueOff === 'bridged' && (
        <Typography variant="body2" color="error.main" sx={{ mt: 1 }}>
          Safe torque off is bridged at the drive: no wire leads to it.
        </Typography>
      )}
    </Panel>
  );
}

/** The terminals of both devices, as their library entries list them. */
function useTerminals(): Readonly<Record<'drive' | 'controller', readonly Terminal[]>> {
  const { drive, controller } = useAxis().document;
  const { data: ofDrive } = useReadEntryQuery(drive.entry?.id ?? skipToken);
  const { data: ofController } = useReadEntryQuery(controller.entry?.id ?? skipToken);
  const listed = (record: EntryRecord | undefined): readonly Terminal[] =>
    record?.item.shelf === 'drive' || record?.item.shelf === 'controller' ? record.item.entry.terminals : [];
  return { drive: listed(ofDrive), controller: listed(ofController) };
}

function problemText(problem: TerminalProblem): string {
  const terminal = `terminal ${problem.terminal} of the ${problem.device}`;
  switch (problem.kind) {
    case 'not there':
      return `${problem.wire}: the library entry lists no ${terminal}. Correct the terminal, or the entry.`;
    case 'other use':
      return `${problem.wire}: ${terminal} is for something else (${problem.use}). Choose another terminal.`;
    case 'needed':
      return `The ${terminal} (${problem.use}) is not wired: the ${problem.device} cannot be enabled until it is wired or bridged.`;
  }
}

/** The worst finding about the fields that decide about a wire. */
const worstOf = ({ fields }: Wire, findings: readonly Finding[]): Finding | undefined =>
  findings.find(({ path }) => fields.some((field) => path.startsWith(field)));

function WireRow({ wire, worst }: { readonly wire: Wire; readonly worst: Finding | undefined }) {
  const { key, label, from, to, active, broken } = wire;
  return (
    <tr>
      <th scope="row">
        {label}
        {active && <span className="end">{active}</span>}
      </th>
      <td>
        <span className="end">{from}</span>
        <NoteField of={key} field="from" at={from} label={`Terminal of the ${from} for ${label}`} />
      </td>
      <td>
        <span className="end">{to}</span>
        <NoteField of={key} field="to" at={to} label={`Terminal of the ${to} for ${label}`} />
      </td>
      <td>
        <NoteField of={key} field="core" label={`Core of ${label}`} />
      </td>
      <td className="length">
        <LengthField of={key} label={`Length of ${label}`} />
      </td>
      <td className={broken.isSafe === false ? 'unsafe' : undefined}>{broken.effect}</td>
      <td className="check" title={worst?.message}>
        {worst ? (
          <Box component="span" sx={{ color: severityLook[worst.severity].colour, fontWeight: 600 }}>
            {severityLook[worst.severity].word}
          </Box>
        ) : (
          'no finding'
        )}
      </td>
    </tr>
  );
}

/** What the user says of a wire; a wire of which nothing is said any more leaves nothing behind. */
function useNote(key: string): readonly [WireNote, (change: Partial<WireNote>) => void] {
  const { document } = useAxis();
  const edit = useEdit();
  const { wires, unread } = document;
  const note = wires[key] ?? blank;
  return [
    note,
    (change) => {
      const next = { ...note, ...change };
      const hasLength = next.length !== null || unread[pointerOf(['wires', key, 'length'])] !== undefined;
      if (hasLength || next.from !== '' || next.to !== '' || next.core !== '') {
        if (!wires[key]) return edit(['wires', key], next);
        for (const field of ['from', 'to', 'core'] as const)
          if (next[field] !== note[field]) edit(['wires', key, field], next[field]);
        return;
      }
      const { [key]: _, ...others } = wires;
      edit(['wires'], others);
      // Text at the other wires that cannot be read stays.
      if (Object.keys(unread).some((pointer) => pointer.startsWith('/wires/'))) edit(['unread'], unread);
    },
  ];
}

function NoteField(props: {
  readonly of: string;
  readonly field: 'from' | 'to' | 'core';
  /** The device whose terminals are offered. */
  readonly at?: WireEnd;
  readonly label: string;
}) {
  const { of, field, at, label } = props;
  const [note, change] = useNote(of);
  return (
    <TextField
      variant="standard"
      value={note[field]}
      onChange={({ target }) => change({ [field]: target.value })}
      slotProps={{
        htmlInput: {
          'aria-label': label,
          maxLength: field === 'core' ? 30 : 20,
          ...(at === undefined ? {} : { list: `terminals of the ${at}` }),
        },
      }}
      sx={{ width: 74 }}
    />
  );
}

/** m; it can be typed once something is said of the wire. */
function LengthField({ of, label }: { readonly of: string; readonly label: string }) {
  const { document } = useAxis();
  return document.wires[of] ? (
    <NumberField bare label={label} path={['wires', of, 'length']} rule="cableLength" />
  ) : (
    '—'
  );
}
