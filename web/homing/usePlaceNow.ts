import { useState } from 'react';
import { useAxisLive } from '../member/useLive.ts';

/**
 * Where the axis is by a position that holds good: it is homed, or is homing and was homed before, so that the position goes on from
 * the last home until the new one is found. undefined: nobody knows.
 */
export function usePlaceNow(): number | undefined {
  const { position, isHomed, isHoming } = useAxisLive((live) => ({
    position: live?.position,
    isHomed: live?.homed === true,
    isHoming: live?.activity === 'homing' || live?.activity === 'homing series',
  }));
  const [holds, setHolds] = useState(isHomed);
  const nowHolds = isHomed || (isHoming && holds);
  if (nowHolds !== holds) setHolds(nowHolds);
  return nowHolds ? position : undefined;
}
