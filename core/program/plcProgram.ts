import { identifier, numeral, remark, type ProgramMove, type ProgramText } from './programMove.ts';

/**
 * The move as structured text of IEC 61131-3 with function blocks of PLCopen motion control part 1: MC_Power, MC_MoveRelative, MC_Stop.
 * It starts on a rising edge of Start and stops after the last move, or on an error.
 */
export function plcProgram({ name, unit, distance, speed, acceleration, dwell, repeats }: ProgramMove): ProgramText {
  const axis = identifier(name);
  const text = `(* ${remark(name)}: ${repeats} times ${numeral(distance)} ${unit} towards plus and back *)
PROGRAM Prove_${axis}
VAR_INPUT
  Enable : BOOL; (* power to the axis *)
  Start  : BOOL; (* a rising edge starts the moves *)
  Halt   : BOOL; (* stops the axis *)
END_VAR
VAR_IN_OUT
  ${axis} : AXIS_REF;
END_VAR
VAR_OUTPUT
  Busy    : BOOL;
  Done    : BOOL;
  Error   : BOOL;
  ErrorID : WORD;
  Moves   : INT; (* moves made *)
END_VAR
VAR
  Power   : MC_Power;
  Move    : MC_MoveRelative;
  Stop    : MC_Stop;
  Pause   : TON;
  Begin   : R_TRIG;
  Phase   : INT := 0;
  Way     : LREAL;
END_VAR
VAR CONSTANT
  LENGTH       : LREAL := ${numeral(distance)}; (* ${unit} *)
  SPEED        : LREAL := ${numeral(speed)}; (* ${unit}/s *)
  ACCELERATION : LREAL := ${numeral(acceleration)}; (* ${unit}/s2 *)
  MOST         : INT := ${2 * repeats};
END_VAR

Power(Axis := ${axis}, Enable := Enable);
Begin(CLK := Start);

CASE Phase OF
  0: (* waits for Start *)
    IF Begin.Q AND Power.Status AND NOT Halt THEN
      Moves := 0;
      Done := FALSE;
      Error := FALSE;
      Phase := 10;
    END_IF;
  10: (* prepares a move *)
    IF MOD(Moves, 2) = 0 THEN
      Way := LENGTH;
    ELSE
      Way := -LENGTH;
    END_IF;
    Move(Axis := ${axis}, Execute := FALSE);
    Phase := 20;
  20: (* moves *)
    Move(Axis := ${axis}, Execute := TRUE, Distance := Way, Velocity := SPEED,
         Acceleration := ACCELERATION, Deceleration := ACCELERATION);
    IF Move.Done THEN
      Moves := Moves + 1;
      Pause(IN := FALSE);
      Phase := 30;
    ELSIF Move.Error OR Move.CommandAborted THEN
      ErrorID := Move.ErrorID;
      Phase := 90;
    END_IF;
  30: (* dwells *)
    Pause(IN := TRUE, PT := T#${Math.max(1, Math.round(1000 * dwell))}ms);
    IF Pause.Q THEN
      IF Moves >= MOST THEN
        Done := TRUE;
        Move(Axis := ${axis}, Execute := FALSE);
        Phase := 0;
      ELSE
        Phase := 10;
      END_IF;
    END_IF;
  90: (* failed *)
    Error := TRUE;
    Move(Axis := ${axis}, Execute := FALSE);
    IF NOT Start THEN
      Phase := 0;
    END_IF;
END_CASE;

Stop(Axis := ${axis}, Execute := Halt, Deceleration := ACCELERATION);
IF Halt OR NOT Enable THEN
  Move(Axis := ${axis}, Execute := FALSE);
  Phase := 0;
END_IF;
Busy := Phase > 0 AND Phase < 90;
END_PROGRAM
`;
  return { text, notes: ['Units are those of the axis in the controller: set its steps per unit first.'] };
}
