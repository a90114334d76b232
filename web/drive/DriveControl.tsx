import type { LinkLive } from '@kavrid/contract';
import { fromRaw } from '@kavrid/core/drive';
import { Alert, Typography } from '@mui/material';
import { useLinkLive } from '../member/useLive.ts';
import { useAppSelector } from '../store/store.ts';

/** Who may enable the drive and where its command comes from, as it is now; and whether the map was made for its firmware. */
export function DriveControl() {
  const { isUp, enabledBy, firmware, known } = useLinkLive((live) => ({
    isUp: live?.link === 'up',
    enabledBy: live && enabledWords(live),
    firmware: live?.identity?.firmware,
    known: live?.otherFirmware?.map(shown).join(', '),
  }));
  const source = useAppSelector((state) =>
    state.live.driveData?.comparisons.find(({ parameter }) => parameter.role === 'commandSource'),
  );
  if (!isUp) return null;
  const raw = source?.running;
  const words =
    source && raw !== undefined
      ? (source.parameter.choices[String(fromRaw(source.parameter, raw))] ?? String(raw))
      : undefined;
  return (
    <>
      <Typography variant="body2">
        Enabled by: {enabledBy}. Command source: {words ?? 'not in its register map'}.
      </Typography>
      {known !== undefined && (
        <Alert severity="warning" sx={{ py: 0 }}>
          {`This register map was made for firmware ${known}; the drive has ${shown(firmware ?? 0)}. Compare addresses and ranges with its manual before you write.`}
        </Alert>
      )}
    </>
  );
}

const shown = (revision: number) => `0x${revision.toString(16).toUpperCase()}`;

function enabledWords({ deviceState, isWatchOnly }: LinkLive): string {
  if (deviceState === undefined) return 'not known';
  if (isWatchOnly) return 'its terminals or another master';
  return deviceState === 'operation enabled' || deviceState === 'quick stop active' ? 'this tool' : 'nobody';
}
