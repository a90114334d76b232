import type { ClientMessage, DriveData, LinkLive, LiveState, ServerMessage, SpindleLive } from '@kavrid/contract';
import { createSlice, type PayloadAction } from '@reduxjs/toolkit';
import { api } from './api.ts';
import { loadAxis, saveAxis } from './drafts.ts';
import type { AppThunk } from './store.ts';

export interface Live {
  /** Whether the server itself can be heard. */
  readonly server: 'up' | 'down';
  /** A drive was linked when the server was last heard. */
  readonly wasLinked: boolean;
  /** The drive of the axis that is watched, or of the spindle. */
  readonly live: LiveState | undefined;
  readonly spindle: SpindleLive | undefined;
  readonly driveData: DriveData | undefined;
  readonly refused: string | undefined;
  /** What someone else has just saved. */
  readonly notice: string | undefined;
  /** Why drafts cannot be kept in this browser. */
  readonly keepingFailed: string | undefined;
  /** The newest run of this session, to be shown. */
  readonly newestRun: string | undefined;
}

const initialState: Live = {
  server: 'down',
  wasLinked: false,
  live: undefined,
  spindle: undefined,
  driveData: undefined,
  refused: undefined,
  notice: undefined,
  keepingFailed: undefined,
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
          }
        : { wasLinked: false }),
    }),
    liveArrived: (state, { payload }: PayloadAction<LiveState | SpindleLive>) =>
      payload.kind === 'spindle'
        ? { ...state, spindle: payload, live: undefined }
        : { ...state, live: payload, spindle: undefined },
    driveDataArrived: (state, { payload }: PayloadAction<DriveData>) => ({ ...state, driveData: payload }),
    refused: (state, { payload }: PayloadAction<string | undefined>) => ({ ...state, refused: payload }),
    noticed: (state, { payload }: PayloadAction<string | undefined>) => ({ ...state, notice: payload }),
    keepingFailed: (state, { payload }: PayloadAction<string | undefined>) => ({ ...state, keepingFailed: payload }),
    runArrived: (state, { payload }: PayloadAction<string>) => ({ ...state, newestRun: payload }),
    axisChanged: (state): Live => ({ ...initialState, server: state.server, keepingFailed: state.keepingFailed }),
  },
});

const { serverChanged, liveArrived, driveDataArrived, refused, noticed, runArrived, axisChanged } = live.actions;
export const { keepingFailed } = live.actions;

/** What is known of the drive of what is watched, axis or spindle. */
export const linkLive = ({ live: state }: { readonly live: Live }): LinkLive | undefined => state.live ?? state.spindle;
export const dismissRefusal = () => refused(undefined);
export const dismissNotice = () => noticed(undefined);

/** ms between two signs of life while this window holds an axis; the server stops the axis after 400 ms without. */
const aliveTime = 40;

let socket: WebSocket | undefined;
let watched: string | undefined;
let alive: ReturnType<typeof setInterval> | undefined;

/** Counts the stops of this window, so that what was to be sent before one is not sent after it. */
let stops = 0;
/** Presses of this window; each is begun and ended by its number. */
let presses = 0;

/** Sends a command for the watched axis. Nothing is queued: what cannot be sent now is not sent later. */
export function command(message: ClientMessage): boolean {
  if (socket?.readyState !== WebSocket.OPEN) return false;
  socket.send(JSON.stringify(message));
  return true;
}

/** Stops, and takes back what this window was about to ask. */
export function stop(): void {
  stops++;
  command({ type: 'stop' });
}

/** Begins a jog by what is on screen. @returns its press, or undefined when it was not sent */
export function beginJog(message: Omit<Extract<ClientMessage, { type: 'jog' }>, 'type' | 'press'>): number | undefined {
  const press = ++presses;
  return command({ type: 'jog', press, ...message }) ? press : undefined;
}

/** Ends a jog; without a number, whichever this window has begun. */
export function endJog(press = presses): void {
  if (press > 0) command({ type: 'jogEnd', press });
}

/** ms after which what was asked for is not done any more: nobody expects a motion that begins seconds after the click */
const patience = 3000;

/**
 * Saves what is on screen, waits until the server works by that version, and then asks for something. A stop meanwhile
 * takes it back.
 */
export const act =
  (axisId: string, messageOf: (version: number) => ClientMessage): AppThunk<Promise<void>> =>
  async (dispatch, getState) => {
    const before = stops;
    const end = Date.now() + patience;
    await dispatch(saveAxis(axisId));
    const draft = getState().drafts[axisId];
    if (!draft || draft.state.kind !== 'saved')
      return void dispatch(refused('The edits on screen are not saved, so nothing was done.'));
    while (linkLive(getState())?.version !== draft.version && Date.now() < end)
      await new Promise((resolve) => setTimeout(resolve, 20));
    if (Date.now() >= end) return void dispatch(refused('Saving took too long, so nothing was done. Try again.'));
    if (stops === before && watched === axisId) command(messageOf(draft.version));
  };

/** Opens the line to the server and keeps it open. */
export const listen = (): AppThunk => (dispatch) => {
  if (!socket) dispatch(openSocket());
};

/** Watches the axis on screen. */
export const watchAxis =
  (axisId: string): AppThunk =>
  (dispatch) => {
    if (watched === axisId && socket) return;
    watched = axisId;
    dispatch(axisChanged());
    if (socket?.readyState === WebSocket.OPEN) command({ type: 'watch', axisId });
    else dispatch(listen());
  };

const openSocket = (): AppThunk => (dispatch) => {
  const url = new URL('/live', window.location.href);
  url.protocol = url.protocol.replace('http', 'ws');
  socket = new WebSocket(url);
  socket.onopen = () => {
    dispatch(serverChanged('up'));
    if (watched) command({ type: 'watch', axisId: watched });
    clearInterval(alive);
    alive = setInterval(() => {
      if (!document.hidden) command({ type: 'alive' });
    }, aliveTime);
  };
  socket.onmessage = (event: MessageEvent<string>) => dispatch(receive(JSON.parse(event.data) as ServerMessage));
  socket.onclose = () => {
    clearInterval(alive);
    socket = undefined;
    dispatch(serverChanged('down'));
    setTimeout(() => dispatch(openSocket()), 1000);
  };
};

const receive =
  (message: ServerMessage): AppThunk =>
  (dispatch, getState) => {
    switch (message.type) {
      case 'live':
        dispatch(liveArrived(message.live));
        return;
      case 'driveData':
        dispatch(driveDataArrived(message.driveData));
        return;
      case 'runSaved':
        dispatch(runArrived(message.run.id));
        dispatch(api.util.invalidateTags(['runs']));
        return;
      case 'axisSaved': {
        const draft = getState().drafts[message.axisId];
        // One's own save is told by its answer.
        if (!draft || draft.version >= message.version || draft.state.kind === 'saving') return;
        void dispatch(loadAxis(message.axisId, message.author));
        dispatch(noticed(`${message.author || 'Someone'} saved: ${message.summary}`));
        dispatch(api.util.invalidateTags(['machines', 'revisions']));
        return;
      }
      case 'listsChanged':
        dispatch(api.util.invalidateTags(['machines', 'library', 'profiles']));
        return;
      case 'refused':
        dispatch(refused(message.because));
    }
  };

/** Motion ends when this window is hidden, loses the focus or goes away, and when Escape is pressed anywhere. */
export function stopWhenUnattended(): void {
  document.addEventListener('visibilitychange', () => {
    endJog();
    if (document.hidden) stop();
  });
  window.addEventListener('blur', () => {
    stops++;
    endJog();
  });
  window.addEventListener('pagehide', stop);
  // Before any dialog or menu that closes by it.
  window.addEventListener('keydown', (event) => event.key === 'Escape' && stop(), { capture: true });
}
