import type { DriveData } from '@kavrid/contract';
import type { Step } from './MemberFrame.tsx';

/** The step of the drive's values, by what was read of the drive. */
export function driveDataStep(driveData: DriveData | undefined): Step {
  const step = { route: 'drive', title: 'Drive data' };
  const standing = driveData?.standing ?? { kind: 'not read' };
  switch (standing.kind) {
    case 'not read':
      return { ...step, standing: 'not read yet' };
    case 'waiting':
      return { ...step, standing: 'waits for a field' };
    case 'nothing planned':
      return { ...step, standing: 'nothing planned' };
    case 'other motor':
      return { ...step, standing: 'another motor' };
    case 'open':
      return { ...step, standing: `${standing.differing.length} not proven` };
    case 'proven':
      return { ...step, standing: 'proven', proven: true };
  }
}
