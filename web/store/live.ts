import type {
  BenchState,
  DriveData,
  FoundDevices,
  GuideState,
  LinkLive,
  LiveState,
  SpindleLive,
} from '@kavrid/contract';
import { createSlice, type PayloadAction } from '@reduxjs/toolkit';

export interface Live {
  /** Whether the server itself can be heard. */
  readonly server: 'up' | 'down';
  /** A drive was linked when the server was last heard. */
  readonly wasLinked: boolean;
  /** The drive of the axis that is watched, or of the spindle. */
  readonly live: LiveState | undefined;
  readonly spindle: SpindleLive | undefined;
  readonly driveData: DriveData | undefined;
  /** The guided steps of what is watched. */
  readonly guide: GuideState | undefined;
  /** The bench that answers at the drive's address; undefined where none does. */
  readonly bench: BenchState | undefined;
  /** The search for devices that was asked for last. */
  readonly found: FoundDevices | undefined;
  readonly refused: string | undefined;
  /** What someone else has just saved. */
  readonly notice: string | undefined;
  /** Why drafts cannot be kept in this browser. */
  readonly keepingFailed: string | undefined;
  /** The axis or spindle on screen. */
  readonly watched: string | undefined;
  /** Counts the stops of this window, so that what was to be sent before one is not sent after it. */
  readonly stops: number;
  /** The newest run of this session, to be shown. */
  readonly newestRun: string | undefined;
}

const initialState: Live = {
  server: 'down',
  wasLinked: false,
  live: undefined,
  spindle: undefined,
  driveData: undefined,
  guide: undefined,
  bench: undefined,
  found: undefined,
  refused: undefined,
  notice: undefined,
  keepingFailed: undefined,
  watched: undefined,
  stops: 0,
  newestRun: undefined,
};

export const live = createSlice({
  name: 'live',
  initialState: initialState as Live,
  reducers: {
    serverChanged: (state, { payload }: PayloadAction<Live['server']>) => ({
      ...state,
      server: payload,
      ...(payload === 'down'
        ? {
            wasLinked: state.wasLinked || linkLive({ live: state })?.link === 'up',
            live: undefined,
            spindle: undefined,
            driveData: undefined,
            guide: undefined,
            bench: undefined,
          }
        : { wasLinked: false }),
    }),
    liveArrived: (state, { payload }: PayloadAction<LiveState | SpindleLive>) =>
      payload.kind === 'spindle'
        ? { ...state, spindle: payload, live: undefined }
        : { ...state, live: payload, spindle: undefined },
    benchArrived: (state, { payload }: PayloadAction<BenchState | undefined>) => ({ ...state, bench: payload }),
    driveDataArrived: (state, { payload }: PayloadAction<DriveData>) => ({ ...state, driveData: payload }),
    guideArrived: (state, { payload }: PayloadAction<GuideState>) => ({ ...state, guide: payload }),
    foundArrived: (state, { payload }: PayloadAction<FoundDevices>) => ({ ...state, found: payload }),
    refused: (state, { payload }: PayloadAction<string | undefined>) => ({ ...state, refused: payload }),
    noticed: (state, { payload }: PayloadAction<string | undefined>) => ({ ...state, notice: payload }),
    keepingFailed: (state, { payload }: PayloadAction<string | undefined>) => ({ ...state, keepingFailed: payload }),
    runArrived: (state, { payload }: PayloadAction<string>) => ({ ...state, newestRun: payload }),
    /** Nothing that was known of another axis is known of this one. */
    watching: (state, { payload }: PayloadAction<string>): Live => ({
      ...initialState,
      server: state.server,
      keepingFailed: state.keepingFailed,
      stops: state.stops,
      watched: payload,
    }),
    stopped: (state) => ({ ...state, stops: state.stops + 1 }),
  },
});

export const {
  serverChanged,
  liveArrived,
  benchArrived,
  driveDataArrived,
  foundArrived,
  guideArrived,
  refused,
  noticed,
  runArrived,
  watching,
  stopped,
  keepingFailed,
} = live.actions;

/** What is known of the drive of what is watched, axis or spindle. */
export const linkLive = ({ live: state }: { readonly live: Live }): LinkLive | undefined => state.live ?? state.spindle;
export const dismissRefusal = () => refused(undefined);
export const dismissNotice = () => noticed(undefined);
