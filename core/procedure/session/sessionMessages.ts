import type { MoveOrder } from './movesPlan.ts';

/** What a window can ask of a session. Whatever sets a drive in motion or changes it names the version it was meant for. */
export type SessionMessage =
  /** `isFarConfirmed`: a host outside this computer and private networks is meant. */
  | { readonly type: 'connect'; readonly version: number; readonly isFarConfirmed?: boolean | undefined }
  | { readonly type: 'disconnect' }
  | { readonly type: 'confirmIdentity'; readonly mark: string }
  | { readonly type: 'takeOver' }
  | { readonly type: 'alive' }
  | { readonly type: 'stop' }
  /** Switches the motor off; a moving axis is stopped first. */
  | { readonly type: 'disable' }
  | { readonly type: 'resetFault' }
  /** `isPropped`: a suspended load is propped, or its mechanics hold it by themselves. */
  | { readonly type: 'enable'; readonly version: number; readonly isPropped: boolean }
  /** `press` counts up within a window; `speed` is what the screen shows. */
  | {
      readonly type: 'jog';
      readonly version: number;
      readonly press: number;
      readonly direction: 1 | -1;
      readonly speed: number;
      /** `lever`: at a speed that a lever shows, which `jogSpeed` changes while it is held; `fenced`: no farther than the ends of the test move; `slow`: at a tenth of the jog speed. */
      readonly by?: 'lever' | 'fenced' | 'slow' | undefined;
    }
  /** The lever is held at another speed, signed. */
  | { readonly type: 'jogSpeed'; readonly press: number; readonly speed: number }
  | { readonly type: 'jogEnd'; readonly press: number }
  | { readonly type: 'home'; readonly version: number }
  /** Homes, then homes again from each of these positions, in axis units. */
  | { readonly type: 'homeSeries'; readonly version: number; readonly starts: readonly number[] }
  /** A series waits at home, or goes on. */
  | { readonly type: 'pauseSeries'; readonly isPaused: boolean }
  /** The controller has homed: where the axis stands now is measured. Then such a series is over, and is kept. */
  | { readonly type: 'noteHome'; readonly version: number }
  | { readonly type: 'endSeries'; readonly version: number }
  | { readonly type: 'goToStart'; readonly version: number }
  | { readonly type: 'testMove'; readonly version: number }
  /** Records what the drive does under its controller, until it is ended. */
  | { readonly type: 'recordController'; readonly version: number }
  | { readonly type: 'endRecording' }
  | { readonly type: 'makeMove'; readonly version: number; readonly order: MoveOrder }
  /** Gains of a trial, with the motor on. */
  | { readonly type: 'putBackGains'; readonly version: number }
  /** rpm of the tool */
  | { readonly type: 'runSpindle'; readonly version: number; readonly speed: number; readonly reverse: boolean }
  | { readonly type: 'stopSpindle' }
  | { readonly type: 'runTest'; readonly version: number }
  /**
   * Reads and compares with the plan, with the raw values given, or with what was to be written last; the next `writeDrive`
   * writes what then differs.
   */
  | {
      readonly type: 'readDrive';
      readonly version: number;
      readonly target?:
        'as before' | { readonly label: string; readonly values: Readonly<Record<string, number>> } | undefined;
    }
  /** Keeps all values of the drive under a name. */
  | { readonly type: 'takeSnapshot'; readonly version: number; readonly name: string }
  | { readonly type: 'writeDrive'; readonly version: number }
  /** Forces an input, or frees it; with the motor off. */
  | {
      readonly type: 'forceInput';
      readonly version: number;
      readonly key: string;
      readonly to: 'active' | 'not active' | 'free';
    }
  /** Frees every input: the page that forced them is left. */
  | { readonly type: 'endForcing' }
  /** Sensors are tripped by hand in turn, with the motor off. */
  | { readonly type: 'sensorWalk'; readonly version: number }
  /** The sensor was tripped and nothing changed; or it is left out, with a reason; or the walk ends. */
  | { readonly type: 'walkOn'; readonly what: 'nothing' | 'skip' | 'end'; readonly because: string }
  /** A step of a procedure, with a link or by hand; `given`: numbers that the user has entered for it. */
  | {
      readonly type: 'beginStep';
      readonly version: number;
      readonly step: string;
      readonly isByHand: boolean;
      readonly given: Readonly<Record<string, number>>;
    }
  | {
      readonly type: 'answerStep';
      readonly step: string;
      readonly answer: string | number;
      readonly given: Readonly<Record<string, number>>;
    }
  /** Left out, with a reason. */
  | { readonly type: 'skipStep'; readonly version: number; readonly step: string; readonly because: string }
  | { readonly type: 'endStep' }
  /** `isHostQuiet`: the host's enable is off and its command is zero. */
  | { readonly type: 'restore'; readonly isHostQuiet: boolean };
