import type { LinkLive, LiveInput } from '@kavrid/contract';
import { isWalking } from '@kavrid/core/procedure';
import { memo, useEffect, useRef } from 'react';
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
  const mayForce = useLinkLive(mayForceNow);
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
          <InputRow key={key} of={key} label={label} isSensor={isSensor} hasForcing={isForcible} mayForce={mayForce} />
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
  readonly mayForce: boolean;
}) {
  const { of, label, isSensor, hasForcing, mayForce } = props;
  const { level, isActive, isForced, isForcible } = useLinkLive((live) => find(live, of)) ?? {};
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
          {isForcible && (
            <ForceField
              of={of}
              label={label}
              value={!isForced ? 'free' : isActive ? 'active' : 'not active'}
              mayForce={mayForce}
            />
          )}
        </td>
      )}
      <td className="time" ref={changed} />
    </tr>
  );
}

/** Inputs are forced only with the motor off, and with no hand at the sensors. */
const mayForceNow = (live: LinkLive | undefined): boolean =>
  live?.deviceState !== undefined &&
  live.deviceState !== 'operation enabled' &&
  live.activity === 'idle' &&
  !(live.walk && isWalking(live.walk)) &&
  live.holder !== 'another window';

interface ForceFieldProps {
  readonly of: string;
  readonly label: string;
  readonly value: (typeof forcings)[number];
  readonly mayForce: boolean;
}

/** Forces an input while this page is open. The motor cannot be enabled while an input is forced. */
const ForceField = memo((props: ForceFieldProps) => {
  const { of, label, value, mayForce } = props;
  const { memberId } = useMember();
  const dispatch = useAppDispatch();
  return (
    <select
      aria-label={`Force ${label}`}
      className={value === 'free' ? undefined : 'forced'}
      value={value}
      disabled={!mayForce}
      onChange={({ target }) => {
        const to = forcings.find((each) => each === target.value);
        if (to) void dispatch(act(memberId, (version) => ({ type: 'forceInput', version, key: of, to })));
      }}
    >
      {forcings.map((each) => (
        <option key={each} value={each}>
          {each === 'free' ? 'not forced' : `forced ${each}`}
        </option>
      ))}
    </select>
  );
});
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
