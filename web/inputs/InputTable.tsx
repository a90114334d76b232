import type { LinkLive, LiveInput } from '@kavrid/contract';
import { Box, styled } from '@mui/material';
import { useEffect, useRef, useState } from 'react';
import { useLinkLive } from '../member/useLive.ts';
import { linkLive } from '../store/live.ts';
import { useAppSelector } from '../store/store.ts';
import { numberFace } from '../ui/theme.ts';
import { sxOnce } from '../ui/sxOnce.ts';

const Table = styled('table')(
  sxOnce({
    borderCollapse: 'collapse',
    width: '100%',
    fontSize: 13,
    '& th': { textAlign: 'left', fontWeight: 600, py: 0.5, pr: 1 },
    '& tbody th': { fontWeight: 400 },
    '& td': { py: 0.5, pr: 1, borderTop: 1, borderColor: 'divider' },
    '& tbody th, & tbody td': { borderTop: 1, borderColor: 'divider' },
    '& .time': { fontFamily: numberFace, fontSize: 12.5, color: 'text.secondary', textAlign: 'right' },
    '& .active': { fontWeight: 600, color: 'warning.main' },
  }),
);

const alike = (a: readonly LiveInput[], b: readonly LiveInput[]): boolean =>
  a.length === b.length && a.every(({ key, label }, k) => key === b[k]?.key && label === b[k].label);

const none: readonly LiveInput[] = [];

/** The level at each terminal, and what it means after polarity and debounce; each row follows its own input. */
export function InputTable() {
  const inputs = useAppSelector((state) => linkLive(state)?.inputs ?? none, alike);
  return (
    <Table aria-label="Inputs of the drive">
      <thead>
        <tr>
          <th scope="col">Input</th>
          <th scope="col">Terminal</th>
          <th scope="col">Input is</th>
          <th scope="col" style={{ textAlign: 'right' }}>
            Last change seen
          </th>
        </tr>
      </thead>
      <tbody>
        {inputs.map(({ key, label, isSensor }) => (
          <InputRow key={key} of={key} label={label} isSensor={isSensor} />
        ))}
      </tbody>
    </Table>
  );
}

const find = (live: LinkLive | undefined, key: string) => live?.inputs.find((input) => input.key === key);

function InputRow(props: { readonly of: string; readonly label: string; readonly isSensor: boolean }) {
  const { of, label, isSensor } = props;
  const level = useLinkLive((live) => find(live, of)?.level);
  const isActive = useLinkLive((live) => find(live, of)?.isActive);
  const changed = useChangeTime(level === undefined && isActive === undefined ? undefined : `${level} ${isActive}`);
  return (
    <tr>
      <th scope="row">{label}</th>
      <td>
        <Lamp on={level} />
        {level === undefined ? 'not known' : level ? 'current flows' : 'no current'}
      </td>
      <td className={isActive && isSensor ? 'active' : undefined}>
        {isActive === undefined ? 'not known' : isActive ? 'active' : 'not active'}
      </td>
      <td className="time">{changed}</td>
    </tr>
  );
}

function Lamp({ on }: { readonly on: boolean | undefined }) {
  return (
    <Box
      component="span"
      aria-hidden
      sx={{
        display: 'inline-block',
        width: 11,
        height: 11,
        borderRadius: '50%',
        border: 1.5,
        borderColor: 'text.primary',
        bgcolor: on ? 'text.primary' : 'transparent',
        mr: 0.75,
        verticalAlign: '-1px',
      }}
    />
  );
}

/** When a value last changed while this page was open; a dash until then. What is not known changes nothing. */
function useChangeTime(value: string | undefined): string {
  const before = useRef(value);
  const [time, setTime] = useState('—');
  useEffect(() => {
    if (value === undefined || before.current === value) return;
    const isFirst = before.current === undefined;
    before.current = value;
    if (!isFirst) setTime(new Date().toLocaleTimeString());
  }, [value]);
  return time;
}
