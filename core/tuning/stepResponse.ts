import type { HostedLoop, LoopModel } from './loopModel.ts';

/** Steps a second: far above anything that a drive has. */
const stepRate = 64_000;

/**
 * The position of the motor after a step of its demand by one, by the model: the same loops as its responses, stepped in time, dead time
 * with them. What diverges ends as NaN. @returns so many values evenly spaced over the seconds, the first at 0
 */
export function stepResponse(model: LoopModel, seconds: number, count: number): Float64Array {
  const { motorInertia, loadInertia, stiffness, damping, torqueTimeConstant, filterTime, deadTime } = model;
  const { speedGain, speedIntegralTime, positionGain, torqueFilterTime = 0, notch, host } = model;
  const dt = 1 / stepRate;
  const total = motorInertia + loadInertia;
  const late = new Float64Array(Math.max(1, Math.round(deadTime * stepRate)));
  const torqueShare = 1 - Math.exp(-dt / Math.max(torqueTimeConstant, 1e-9));
  const commandShare = 1 - Math.exp(-dt / Math.max(torqueFilterTime, 1e-9));
  const filterShare = 1 - Math.exp(-dt / Math.max(filterTime, 1e-9));
  const demanded = host ? hostedDemand(host, positionGain, dt) : (lag: number) => positionGain * lag;
  const values = new Float64Array(count);
  let [swing, swingSpeed] = [0, 0];
  let [angle, speed, loadAngle, loadSpeed, error, integral, command, torque] = [0, 0, 0, 0, 0, 0, 0, 0];
  const steps = Math.round(seconds * stepRate);
  for (let k = 0; k <= steps; k++) {
    const sample = (k * (count - 1)) / steps;
    if (Number.isInteger(sample) || Math.floor(sample) > Math.floor(((k - 1) * (count - 1)) / steps))
      values[Math.floor(sample)] = Math.abs(angle) > 1e3 ? NaN : angle;
    error += filterShare * (demanded(1 - angle) - speed - error);
    if (speedIntegralTime > 0) integral += (error * dt) / speedIntegralTime;
    const wanted = speedGain * (error + integral);
    const place = k % late.length;
    const delayed = deadTime > 0 ? (late[place] ?? 0) : wanted;
    command += commandShare * (delayed - command);
    if (notch) {
      // Its state, as a swing that is driven by the command; what comes out is the command less what the notch takes.
      const drive = notch.frequency ** 2 * (command - swing) - 2 * notch.width * notch.frequency * swingSpeed;
      swingSpeed += drive * dt;
      swing += swingSpeed * dt;
      const taken = (2 * notch.width * (1 - notch.depth) * swingSpeed) / notch.frequency;
      torque += torqueShare * (command - taken - torque);
    } else torque += torqueShare * (command - torque);
    late[place] = wanted;
    if (stiffness === undefined) {
      speed += (torque / total) * dt;
      angle += speed * dt;
      continue;
    }
    const coupling = stiffness * (angle - loadAngle) + damping * (speed - loadSpeed);
    speed += ((torque - coupling) / motorInertia) * dt;
    loadSpeed += (coupling / loadInertia) * dt;
    angle += speed * dt;
    loadAngle += loadSpeed * dt;
  }
  return values;
}

/** The speed that a controller sends for a position error, as late as it arrives. */
function hostedDemand({ integralGain, deadTime, filterTime }: HostedLoop, gain: number, dt: number) {
  const late = new Float64Array(Math.max(1, Math.round(deadTime * stepRate)));
  const share = 1 - Math.exp(-dt / Math.max(filterTime, 1e-9));
  let [integral, arrived, at] = [0, 0, 0];
  return (lag: number): number => {
    integral += integralGain * lag * dt;
    arrived += share * ((late[at] ?? 0) - arrived);
    late[at] = gain * lag + integral;
    at = (at + 1) % late.length;
    return arrived;
  };
}
