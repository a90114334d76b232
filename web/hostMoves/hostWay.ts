import type { AxisDocument } from '@kavrid/contract';

/** What a controller can do with its command: moves over a distance, a speed alone, or picks of stored moves by inputs. */
export type HostWay = 'moves' | 'speed' | 'picks';

export function hostWay({ command }: AxisDocument): HostWay {
  if (command.kind === 'choice') return 'picks';
  const hasLoop = command.kind === 'analog' && command.loop !== null;
  return 'meaning' in command && command.meaning === 'speed' && !hasLoop ? 'speed' : 'moves';
}
