import type { LinkLive, LiveInput } from '@kavrid/contract';
import { Box, MenuItem, styled, TextField } from '@mui/material';
import { useEffect, useRef, useState } from 'react';
import { useMember } from '../member/memberContext.ts';
import { useLinkLive } from '../member/useLive.ts';
import { linkLive } from '../store/live.ts';
import { act, command } from '../store/liveLine.ts';
import { useAppDispatch, useAppSelector } from '../store/store.ts';
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
  a.length === b.length &&
  a.every(
    ({ key, label, isForcible }, k) => key === b[k]?.key && label === b[k].label && isForcible === b[k].isForcible,
  );

const none: readonly LiveInput[] = [];

/** The level at each terminal, and what it means after polarity and debounce; each row follows its own input. */
export function InputTable() {
  const inputs = useAppSelector((state) => linkLive(state)?.inputs ?? none, alike);
  const isForcible = inputs.some((input) => input.isForcible);
  useForcingEndsWithThisPage();
  return (
    <Table aria-label="Inputs of the drive">
      <thead>
        <tr>
          <th scope="col">Input</th>
          <th scope="col">Terminal</th>
          <th scope="col">Input is</th>
          {isForcible && <th scope="col">Force</th>}
          <th scope="col" style={{ textAlign: 'right' }}>
            Last change seen
          </th>
        </tr>
      </thead>
      <tbody>
        {inputs.map(({ key, label, isSensor }) => (
          <InputRow key={key} of={key} label={label} isSensor={isSensor} hasForcing={isForcible} />
        ))}
      </tbody>
    </Table>
  );
}

const find = (live: LinkLive | undefined, key: string) => live?.inputs.find((input) => input.key === key);

function InputRow(props: {
  readonly of: string;
  readonly label: string;
  readonly isSensor: boolean;
  readonly hasForcing: boolean;
}) {
  const { of, label, isSensor, hasForcing } = props;
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
      {hasForcing && (
        <td>
          <ForceField of={of} label={label} />
        </td>
      )}
      <td className="time">{changed}</td>
    </tr>
  );
}

/** Forces an input for as long as this page is open; the motor stays off meanwhile. */
function ForceField({ of, label }: { readonly of: string; readonly label: string }) {
  const { memberId } = useMember();
  const dispatch = useAppDispatch();
  const { isForcible, isForced, isActive, isOff } = useLinkLive((live) => ({
    isForcible: find(live, of)?.isForcible === true,
    isForced: find(live, of)?.isForced === true,
    isActive: find(live, of)?.isActive,
    isOff:
      live?.deviceState !== undefined &&
      live.deviceState !== 'operation enabled' &&
      live.activity === 'idle' &&
      live.holder !== 'another window',
  }));
  if (!isForcible) return null;
  const value = isForced ? (isActive ? 'active' : 'not active') : 'free';
  return (
    <TextField
      select
      variant="standard"
      value={value}
      disabled={!isOff}
      onChange={({ target }) => {
        const to = forcings.find((each) => each === target.value);
        if (to) void dispatch(act(memberId, (version) => ({ type: 'forceInput', version, key: of, to })));
      }}
      slotProps={{ select: { SelectDisplayProps: { 'aria-label': `Force ${label}` } } }}
      sx={{
        width: 130,
        '& .MuiSelect-select': {
          fontSize: 12.5,
          py: 0,
          ...(isForced ? { fontWeight: 600, color: 'warning.main' } : { color: 'text.secondary' }),
        },
      }}
    >
      {forcings.map((each) => (
        <MenuItem key={each} value={each} dense>
          {each === 'free' ? 'not forced' : `forced ${each}`}
        </MenuItem>
      ))}
    </TextField>
  );
}
const forcings = ['free', 'active', 'not active'] as const;

/** What was forced from here is free again when the page is left or hidden. */
function useForcingEndsWithThisPage(): void {
  const dispatch = useAppDispatch();
  const isForced = useLinkLive((live) => live?.inputs.some((input) => input.isForced) === true);
  const isMine = useLinkLive((live) => live?.holder === 'this window');
  const forcedHere = useRef(false);
  useEffect(() => {
    forcedHere.current = isForced && isMine;
  }, [isForced, isMine]);
  useEffect(() => {
    const end = () => {
      if (forcedHere.current) dispatch(command({ type: 'endForcing' }));
    };
    const hidden = () => document.hidden && end();
    document.addEventListener('visibilitychange', hidden);
    return () => {
      document.removeEventListener('visibilitychange', hidden);
      end();
    };
  }, [dispatch]);
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
