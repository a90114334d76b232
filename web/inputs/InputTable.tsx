import type { LinkLive, LiveInput } from '@kavrid/contract';
import { isWalking } from '@kavrid/core/procedure';
import { MenuItem, TextField } from '@mui/material';
import { useEffect, useRef } from 'react';
import { useMember } from '../member/memberContext.ts';
import { useLinkLive } from '../member/useLive.ts';
import { linkLive } from '../store/live.ts';
import { act, command } from '../store/liveLine.ts';
import { useAppDispatch, useAppSelector } from '../store/store.ts';
import { Lamp, SignalTable } from './signalParts.tsx';
import { useChangeTime } from './useChangeTime.ts';

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
    <SignalTable aria-label="Inputs of the drive">
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
    </SignalTable>
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

/** Forces an input while this page is open. The motor cannot be enabled while an input is forced. */
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
      !(live.walk && isWalking(live.walk)) &&
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
