export type Fields = Readonly<Record<string, unknown>>;
export const isFields = (value: unknown): value is Fields =>
  typeof value === 'object' && value !== null && !Array.isArray(value);

/** An axis of format version 1 knew nothing of library entries. */
export const upgradeAxis1 = (axis: unknown): unknown => {
  if (!isFields(axis)) return axis;
  const withOrigin = (part: unknown) => (isFields(part) ? { ...part, entry: null } : part);
  const { motor, drive, controller } = axis;
  return { ...axis, motor: withOrigin(motor), drive: withOrigin(drive), controller: withOrigin(controller) };
};

const unknownInput = {
  kind: 'optocoupler',
  forwardVoltage: null,
  resistance: null,
  minimumCurrent: null,
  maximumCurrent: null,
};

const withForm = (motor: unknown): unknown => {
  if (!isFields(motor)) return motor;
  if (motor.form === 'linear') return { ...motor, countsPerMillimetre: String(motor.countsPerMillimetre ?? '') };
  return { form: 'rotary', ...motor, ratedCurrent: null, voltageConstant: null, windingResistance: null };
};

const withSupplySafety = (supply: unknown): unknown =>
  isFields(supply) ? { ...supply, reversePolaritySafe: true } : supply;

/** A drive of format version 2; its library entry had some of this already. */
const unknownSignalInput = {
  analogBits: null,
  inputResistance: null,
  referenceVoltage: null,
  referenceCurrent: null,
  captureClock: null,
  rawFullScale: null,
  storedMoves: null,
  encoderOutputRate: null,
};

const withInput = (drive: unknown): unknown =>
  isFields(drive)
    ? {
        ratioForm: 'numerator and denominator',
        ratioInverted: false,
        switchTable: [],
        minimumPulseWidth: null,
        directionSetUp: null,
        ...drive,
        gearSets: 1,
        pulseInput: unknownInput,
        supply: withSupplySafety(drive.supply ?? { kind: 'AC', phases: '', minimum: null, maximum: null }),
      }
    : drive;

const withOutputs = (controller: unknown): unknown =>
  isFields(controller) ? { outputs: [], outputVoltage: null, ...controller, outputDrop: null } : controller;

const withStageData = (stage: unknown): unknown => {
  if (!isFields(stage)) return stage;
  const all = { ...stage, backlash: 0, speedLimit: null };
  switch (stage.kind) {
    case 'screw':
      return { ...all, leftHand: false, rootDiameter: null, freeLength: null, bearings: 'fixed and supported' };
    case 'beltDrive':
      return { ...all, specificStiffness: null, freeLength: null };
    default:
      return all;
  }
};

/** An axis of format version 2 knew nothing of signals, protection, supply and keying, and its pump gave its output itself. */
export const upgradeAxis2 = (axis: unknown): unknown => {
  if (!isFields(axis)) return axis;
  const { motion, command, settings, gear, stages, load } = axis;
  const given = isFields(settings) ? settings : {};
  const isDifferential = isFields(command) && command.electrical === 'differential';
  const last = isFields(motion) && motion.kind === 'dosing' ? motion.outputPerTurn : undefined;
  const { outputPerTurn: _, ...rest } = isFields(motion) ? motion : {};
  return {
    ...axis,
    motion: isFields(motion) ? rest : motion,
    motor: withForm(axis.motor),
    drive: withInput(axis.drive),
    controller: withOutputs(axis.controller),
    signal: {
      driveForm: isFields(command) ? command.kind : command,
      controllerActive: 'high',
      driveActive: 'high',
      output: isDifferential ? 'differential' : 'push-pull',
      pulseWidth: null,
      directionSetUp: 0.00001,
    },
    cable: {
      name: 'Pulse cable',
      resistor: null,
      length: null,
      shield: 'both ends',
      commonReference: true,
      termination: null,
      pins: [],
      entry: null,
    },
    protection: {
      enable: { isWired: true, controllerLevel: given.enableActiveLevel },
      alarm: { contact: 'normallyClosed', joined: 'alone', drives: 1 },
      limits: {
        contact: given.limitActiveLevel === 'high' ? 'normallyOpen' : 'normallyClosed',
        plusInputAt: 'not settled',
      },
      safeTorqueOff: 'none',
    },
    gear: isFields(gear) ? { ...gear, sets: [], switchedInMotion: false } : gear,
    stages: Array.isArray(stages)
      ? [
          ...stages.map(withStageData),
          ...(last === undefined
            ? []
            : [
                {
                  kind: 'dosingHead',
                  outputPerTurn: last,
                  reverses: false,
                  efficiency: 1,
                  inertia: 0,
                  backlash: 0,
                  speedLimit: null,
                },
              ]),
        ]
      : stages,
    load,
    measured: { travelCorrection: '', measuredWith: '', turns: '', counts: '', gauge: null, travel: [] },
    pair: null,
    supply: { name: '', voltage: null, ratedCurrent: null, otherCurrent: 0, capacitance: null, takesEnergyBack: false },
    keying: { found: {}, notes: {}, done: [] },
  };
};

/** Up to format version 3 a machine had axes only. */
export const upgradeAxis3 = (axis: unknown): unknown => (isFields(axis) ? { kind: 'axis', ...axis } : axis);

const withKeying = (value: unknown): unknown =>
  isFields(value)
    ? {
        ...value,
        keyIn: 'value',
        scale: 1,
        half: 'whole',
        halfBase: null,
        firstBit: null,
        bits: null,
        choices: '',
        shows: '',
      }
    : value;

const withBackDrive = (stage: unknown): unknown => {
  if (!isFields(stage)) return stage;
  switch (stage.kind) {
    case 'screw':
      return { ...stage, thread: 'rolling' };
    case 'worm':
      return { ...stage, backDriveEfficiency: null };
    default:
      return stage;
  }
};

const withTwoTimes = (command: unknown): unknown => {
  if (!isFields(command) || command.kind !== 'choice') return command;
  const { trigger, moves, ...rest } = command;
  const { kind, time = 0 } = isFields(trigger) ? trigger : {};
  return {
    ...rest,
    minimumInputDuration: kind === 'debounced' ? time : 0,
    startDelay: kind === 'delayed' ? time : 0,
    nothing: 'not known',
    moves: Array.isArray(moves)
      ? moves.map((move) =>
          isFields(move)
            ? {
                ...move,
                kind: move.kind === 'push to torque' ? 'move until torque' : move.kind,
                signalFrom: null,
                valueFrom: null,
                signalTo: null,
                valueTo: null,
                armingInput: '',
              }
            : move,
        )
      : moves,
  };
};

/** A number with a decimal comma before three digits, with its unit: what was read as a point, and now could be read two ways. */
const commaNumber = /^[+-]?\d+,\d{3}(?:\s*\/\s*[\d.]+)?\s*[^\d,]{0,8}$/;
const notNumbers: ReadonlySet<string> = new Set([
  'name',
  'notes',
  'plusEnd',
  'pattern',
  'switches',
  'sharedWith',
  'found',
]);

/** Decimal commas that format version 4 read as points, written as points. */
const withPoints = (value: unknown, key = ''): unknown => {
  if (notNumbers.has(key)) return value;
  if (typeof value === 'string') return commaNumber.test(value) ? value.replace(',', '.') : value;
  if (Array.isArray(value)) return value.map((each) => withPoints(each, key));
  return isFields(value)
    ? Object.fromEntries(Object.entries(value).map(([name, each]) => [name, withPoints(each, name)]))
    : value;
};

/** Up to format version 4 a link had one kind, screws and worms lost the same both ways, and a pattern counted by one time. */
export const upgradeMember4 = (member: unknown): unknown => {
  if (!isFields(member)) return member;
  const { link, ...rest } = withPoints(member) as Fields;
  const common = { ...rest, link: isFields(link) ? { kind: 'tcp', ...link } : link, unread: {} };
  if (member.kind === 'spindle') return common;
  const { stages, command, homing } = rest;
  return {
    ...common,
    brake: rest.brake ?? { drivenBy: 'not settled', torque: null, releaseDelay: null, engageDelay: null },
    homing: isFields(homing) ? { by: 'drive', homeSwitchFrom: null, homeSwitchLength: null, ...homing } : homing,
    stages: Array.isArray(stages) ? stages.map(withBackDrive) : stages,
    command: withTwoTimes(command),
  };
};

/** An axis or a spindle of format version 5 knew neither what an output carries, nor purely analog inputs, nor numbers given by the user. */
export const upgradeMember5 = (member: unknown): unknown => {
  if (!isFields(member)) return member;
  const { keying, controller, command } = member;
  const given = isFields(keying) ? { ...keying, given: {} } : keying;
  if (member.kind === 'spindle') return { ...member, keying: given };
  return {
    ...member,
    keying: given,
    controller: isFields(controller) ? { ...controller, outputCurrent: null } : controller,
    command: isFields(command) && command.kind === 'analog' ? { ...command, driveInput: 'converted' } : command,
  };
};

/** Up to format version 6 the signal that stored moves follow had no unit of its own. */
export const upgradeMember6 = (member: unknown): unknown =>
  isFields(member) && isFields(member.command) && member.command.kind === 'choice'
    ? { ...member, command: { ...member.command, signalUnit: 'V' } }
    : member;

/** Up to format version 7 nothing was said of single wires. */
export const upgradeMember7 = (member: unknown): unknown =>
  isFields(member) && member.kind === 'axis' ? { ...member, wires: {} } : member;

/** What a homing did not say up to format version 10. */
export const homingFields11 = {
  jerk: null,
  switchDrift: null,
  homeContact: 'not settled',
  secondFlagFrom: null,
  absolute: null,
} as const;

/** What a homing did not say up to format version 9. */
export const newHomingFields = {
  indexPulse: 1,
  indexAt: null,
  minusStop: null,
  plusStop: null,
  hysteresis: null,
  switchScatter: null,
  scanPeriod: null,
  debounce: null,
  mostTravel: null,
  torqueLimit: null,
} as const;

/** Up to format version 9 what home reads was called its offset; switches, stops and limits of a homing were not described. */
export const upgradeMember9 = (member: unknown): unknown => {
  if (!isFields(member) || member.kind !== 'axis' || !isFields(member.homing)) return member;
  const { homeOffset, ...homing } = member.homing;
  return { ...member, homing: { ...newHomingFields, positionAtHome: homeOffset ?? 0, ...homing } };
};

/** What an axis did not say of its loops up to format version 10. */
export const newTuning = { wantedBandwidth: null, resonance: null } as const;

export const noSweep = { from: null, to: null, torque: null, travel: null } as const;

/** What an axis did not say of its moves up to format version 11. */
export const newMoves = {
  jogStep: null,
  target: null,
  by: null,
  faster: { from: null, step: null, to: null, followingError: null, torque: null },
  response: { speed: null, seconds: null },
  press: { speed: null, torque: null, travel: null, seconds: null },
  host: { distance: null, speed: null, repeats: null },
} as const;

/** What an axis did not say of its gains up to format version 12. */
export const newGains = {
  accelerationFeedforward: null,
  torqueFilter: null,
  notchFrequency: null,
  notchWidth: null,
  notchDepth: null,
} as const;
export const noTrial = {
  speedBandwidth: null,
  speedIntegralTime: null,
  positionGain: null,
  velocityFeedforward: null,
  ...newGains,
} as const;
export const noWait = { speedGap: null, positionGap: null } as const;
export const newLoopGains = { integralGain: null, velocityFeedforward: null } as const;
export const newSpindleAcceptance = { speedError: null } as const;

/** Up to format version 12 nothing was said of acceleration feedforward, filter and notch, of a trial, of a set-point that waits, nor by what a spindle is accepted. */
export const upgradeMember12 = (member: unknown): unknown => {
  if (!isFields(member)) return member;
  if (member.kind === 'spindle') return { acceptance: newSpindleAcceptance, ...member };
  const { settings, tuning, moves, command } = member;
  return {
    ...member,
    settings: isFields(settings) ? { ...newGains, ...settings } : settings,
    tuning: isFields(tuning) ? { trial: noTrial, ...tuning } : tuning,
    moves: isFields(moves) ? { wait: noWait, ...moves } : moves,
    command:
      isFields(command) && isFields(command.loop)
        ? { ...command, loop: { ...newLoopGains, ...command.loop } }
        : command,
  };
};

/** Up to format version 11 nothing was said of moves beside the test move, of a sweep, of travel error and lost pulses. */
export const upgradeMember11 = (member: unknown): unknown => {
  if (!isFields(member) || member.kind !== 'axis') return member;
  return {
    moves: newMoves,
    ...member,
    tuning: isFields(member.tuning) ? { sweep: noSweep, ...member.tuning } : member.tuning,
    acceptance: isFields(member.acceptance)
      ? { travelError: null, lostPulses: null, ...member.acceptance }
      : member.acceptance,
  };
};

/** What an axis was accepted by up to format version 10: nothing. */
export const newAcceptance = {
  followingError: null,
  settlingTime: null,
  peakTorque: null,
  rmsTorque: null,
  homingRepeatability: null,
  positionRepeatability: null,
} as const;

/** Up to format version 10 nothing was said of acceptance, tuning, jerk, drift, contact, a second flag or an absolute encoder, nor of how a pair is square. */
export const upgradeMember10 = (member: unknown): unknown => {
  if (!isFields(member) || member.kind !== 'axis' || !isFields(member.homing)) return member;
  return {
    tuning: newTuning,
    acceptance: newAcceptance,
    ...member,
    homing: { ...homingFields11, ...member.homing },
    pair: isFields(member.pair) ? { squaringOffset: null, ...member.pair } : member.pair,
  };
};

/** A library entry as it stood with format version 5 of machine files, and with version 3 of library files. */
export const upgradeEntry5 = (item: unknown): unknown =>
  isFields(item) && item.shelf === 'controller' && isFields(item.entry)
    ? { ...item, entry: { ...item.entry, outputCurrent: null } }
    : item;

/** A library entry as it stood with format version 8 of machine files, and with version 4 of library files. */
export const upgradeEntry8 = (item: unknown): unknown => {
  if (!isFields(item) || !isFields(item.entry)) return item;
  const hasTerminals = item.shelf === 'drive' || item.shelf === 'controller';
  return { ...item, entry: { partNumbers: '', ...(hasTerminals ? { terminals: [] } : {}), ...item.entry } };
};

/** A library entry as it stood with format version 2 of machine files, and with version 1 of library files. */
export const upgradeEntry2 = (item: unknown): unknown => {
  if (!isFields(item) || !isFields(item.entry)) return item;
  const { shelf, entry } = item;
  switch (shelf) {
    case 'motor':
      return { ...item, entry: withForm(entry) };
    case 'drive': {
      const values = Array.isArray(entry.values) ? entry.values.map(withKeying) : entry.values;
      return { ...item, entry: { ...(withInput(entry) as Fields), signalInput: unknownSignalInput, values } };
    }
    case 'controller':
      return { ...item, entry: { ...(withOutputs(entry) as Fields), values: [] } };
    default:
      return item;
  }
};

/**
 * A library entry as it stood with format version 4 of machine files, and with version 2 of library files: what unlocks, stores or
 * restarts had the value to key in its factory column.
 */
export const upgradeEntry4 = (item: unknown): unknown => {
  if (!isFields(item) || !isFields(item.entry) || !Array.isArray(item.entry.values)) return item;
  const values = item.entry.values.map((value: unknown) =>
    isFields(value) ? { keyValue: value.keyIn === 'value' || value.role ? '' : value.factory, ...value } : value,
  );
  return { ...item, entry: { ...item.entry, values } };
};

/** A machine of format version 1 had neither tags nor an archive. */
export const upgradeMachine1 = (machine: unknown): unknown =>
  isFields(machine) ? { ...machine, tags: [], archived: false } : machine;
