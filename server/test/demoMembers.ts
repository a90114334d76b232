import { readFileSync } from 'node:fs';
import {
  axesAmong,
  machineFileSchema,
  spindlesAmong,
  type AxisDocument,
  type MemberDocument,
  type SpindleDocument,
} from '@kavrid/contract';

const demo = machineFileSchema.parse(
  JSON.parse(readFileSync(new URL('../../demo/tile-glazing-cell.json', import.meta.url), 'utf8')),
);
const [carriage] = axesAmong(demo.axes);
const [grinder] = spindlesAmong(demo.axes);
if (!carriage || !grinder) throw new Error('the demo has no axis or no spindle');

export const demoAxis: AxisDocument = carriage;
/** An axis of the demo by its name. */
export function demoAxisNamed(name: string): AxisDocument {
  const axis = axesAmong(demo.axes).find((each) => each.name === name);
  if (!axis) throw new Error(`the demo has no axis ${name}`);
  return axis;
}
export const demoSpindle: SpindleDocument = grinder;

/** The link of a member that is reached over TCP, as those of the demo are. */
export function tcpLink({ link }: MemberDocument): Extract<MemberDocument['link'], { kind: 'tcp' }> {
  if (link.kind !== 'tcp') throw new Error('it is not linked over TCP');
  return link;
}
