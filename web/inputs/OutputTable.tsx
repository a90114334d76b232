import type { LinkLive, LiveOutput } from '@kavrid/contract';
import { useLinkLive } from '../member/useLive.ts';
import { linkLive } from '../store/live.ts';
import { useAppSelector } from '../store/store.ts';
import { Lamp, SignalTable } from './signalParts.tsx';
import { useChangeTime } from './useChangeTime.ts';

const alike = (a: readonly LiveOutput[], b: readonly LiveOutput[]): boolean =>
  a.length === b.length && a.every(({ key, label }, k) => key === b[k]?.key && label === b[k].label);

const none: readonly LiveOutput[] = [];

/** What each output of the drive is at; each row follows its own output. */
export function OutputTable() {
  const outputs = useAppSelector((state) => linkLive(state)?.outputs ?? none, alike);
  return (
    <SignalTable aria-label="Outputs of the drive">
      <thead>
        <tr>
          <th scope="col">Output</th>
          <th scope="col">Output is</th>
          <th scope="col" style={{ textAlign: 'right' }}>
            Last change seen
          </th>
        </tr>
      </thead>
      <tbody>
        {outputs.map(({ key, label }) => (
          <OutputRow key={key} of={key} label={label} />
        ))}
      </tbody>
    </SignalTable>
  );
}

const find = (live: LinkLive | undefined, key: string) => live?.outputs.find((output) => output.key === key);

function OutputRow({ of, label }: { readonly of: string; readonly label: string }) {
  const isOn = useLinkLive((live) => find(live, of)?.isOn);
  const changed = useChangeTime(isOn === undefined ? undefined : String(isOn));
  return (
    <tr>
      <th scope="row">{label}</th>
      <td>
        <Lamp on={isOn} />
        {isOn === undefined ? 'not known' : isOn ? 'on' : 'off'}
      </td>
      <td className="time" ref={changed} />
    </tr>
  );
}
