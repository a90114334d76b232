import type { ClientMessage, ServerMessage } from '@kavrid/contract';
import { createAction, type Middleware, type ThunkDispatch, type UnknownAction } from '@reduxjs/toolkit';
import { api } from './api.ts';
import {
  benchArrived,
  driveDataArrived,
  guideArrived,
  foundArrived,
  linkLive,
  liveArrived,
  noticed,
  refused,
  runArrived,
  serverChanged,
  stopped,
  watching,
} from './live.ts';
import type { AppThunk, RootState, Shared } from './rootState.ts';
import { loadAxis, saveAxis } from './saving.ts';

/** Sends a command for what is watched. Nothing is queued: what cannot be sent now is not sent later. Answers whether it was sent. */
export const command = createAction<ClientMessage>('line/command');

/** Begins a jog by what is on screen. Answers with its press, or undefined when it was not sent. */
export const beginJog = createAction<Omit<Extract<ClientMessage, { type: 'jog' }>, 'type' | 'press'>>('line/beginJog');

/** Ends a jog by its press; without one, whichever this window has begun. */
export const endJog = createAction<number | undefined>('line/endJog');

/** Holds the lever of a jog at another speed. */
export const leverSpeed = createAction<Omit<Extract<ClientMessage, { type: 'jogSpeed' }>, 'type'>>('line/leverSpeed');

/** Opens the line to the server and keeps it open. */
export const listen = createAction('line/listen');

/** Watches an axis or spindle. */
export const watchAxis = createAction<string>('line/watch');

/** Answers of the line to what is sent over it. */
export interface LineDispatch {
  (action: ReturnType<typeof command>): boolean;
  (action: ReturnType<typeof beginJog>): number | undefined;
}
type Dispatch = ThunkDispatch<RootState, Shared, UnknownAction>;

/** ms between two signs of life while this window holds an axis; the server stops the axis after 400 ms without. */
const aliveTime = 40;
/** ms after which a line that has ended is opened again */
const reopenTime = 1000;

/** The line of one window to the server. */
export const liveLine =
  (): Middleware<LineDispatch, RootState, Dispatch> =>
  ({ dispatch, getState }) => {
    let socket: WebSocket | undefined;
    let alive: ReturnType<typeof setInterval> | undefined;
    /** Presses of this window; each is begun and ended by its number. */
    let presses = 0;

    const send = (message: ClientMessage): boolean => {
      if (socket?.readyState !== WebSocket.OPEN) return false;
      socket.send(JSON.stringify(message));
      return true;
    };
    const open = () => {
      if (socket) return;
      const url = new URL('/live', window.location.href);
      url.protocol = url.protocol.replace('http', 'ws');
      socket = new WebSocket(url);
      socket.onopen = () => {
        dispatch(serverChanged('up'));
        const { watched } = getState().live;
        if (watched) send({ type: 'watch', memberId: watched });
        clearInterval(alive);
        alive = setInterval(() => {
          if (!document.hidden) send({ type: 'alive' });
        }, aliveTime);
      };
      socket.onmessage = (event: MessageEvent<string>) => dispatch(receive(JSON.parse(event.data) as ServerMessage));
      socket.onclose = () => {
        clearInterval(alive);
        socket = undefined;
        dispatch(serverChanged('down'));
        setTimeout(open, reopenTime);
      };
    };
    return (next) => (action) => {
      if (command.match(action)) return send(action.payload);
      if (beginJog.match(action)) {
        const press = ++presses;
        return send({ type: 'jog', press, ...action.payload }) ? press : undefined;
      }
      if (leverSpeed.match(action)) return send({ type: 'jogSpeed', ...action.payload });
      if (endJog.match(action)) {
        const press = action.payload ?? presses;
        return press > 0 && send({ type: 'jogEnd', press });
      }
      if (listen.match(action)) return open();
      if (watchAxis.match(action)) {
        if (getState().live.watched === action.payload && socket) return undefined;
        dispatch(watching(action.payload));
        if (!send({ type: 'watch', memberId: action.payload })) open();
        return undefined;
      }
      return next(action);
    };
  };

/** Stops, and takes back what this window was about to ask. */
export const stop = (): AppThunk => (dispatch) => {
  dispatch(stopped());
  dispatch(command({ type: 'stop' }));
};

/** ms after which what was asked for is not done any more: nobody expects a motion that begins seconds after the click */
const patience = 3000;

/**
 * Saves what is on screen, waits until the server works by that version, and then asks for something. A stop meanwhile
 * takes it back.
 */
export const act =
  (memberId: string, messageOf: (version: number) => ClientMessage): AppThunk<Promise<void>> =>
  async (dispatch, getState) => {
    const { stops } = getState().live;
    const end = Date.now() + patience;
    await dispatch(saveAxis(memberId));
    const draft = getState().drafts[memberId];
    if (!draft || draft.state.kind !== 'saved')
      return void dispatch(refused('The edits on screen are not saved, so nothing was done.'));
    while (linkLive(getState())?.version !== draft.version && Date.now() < end)
      await new Promise((resolve) => setTimeout(resolve, 20));
    if (Date.now() >= end) return void dispatch(refused('Saving took too long, so nothing was done. Try again.'));
    const { live } = getState();
    if (live.stops === stops && live.watched === memberId) dispatch(command(messageOf(draft.version)));
  };

const receive =
  (message: ServerMessage): AppThunk =>
  (dispatch, getState) => {
    switch (message.type) {
      case 'live':
        dispatch(liveArrived(message.live));
        return;
      case 'bench':
        dispatch(benchArrived(message.bench));
        return;
      case 'guide':
        dispatch(guideArrived(message.guide));
        return;
      case 'driveData':
        dispatch(driveDataArrived(message.driveData));
        return;
      case 'runSaved':
        dispatch(runArrived(message.run.id));
        dispatch(api.util.invalidateTags(['runs']));
        return;
      case 'axisSaved': {
        const draft = getState().drafts[message.memberId];
        // The answer to our own save brings its version.
        if (!draft || draft.version >= message.version || draft.state.kind === 'saving') return;
        void dispatch(loadAxis(message.memberId, message.author));
        dispatch(noticed(`${message.author || 'Someone'} saved: ${message.summary}`));
        dispatch(api.util.invalidateTags(['machines', 'revisions']));
        return;
      }
      case 'found':
        dispatch(foundArrived(message.found));
        return;
      case 'evidenceKept':
        dispatch(api.util.invalidateTags(['evidence']));
        return;
      case 'snapshotKept':
        dispatch(noticed(`Snapshot kept: ${message.name}`));
        dispatch(api.util.invalidateTags(['snapshots']));
        return;
      case 'listsChanged':
        dispatch(api.util.invalidateTags(['machines', 'library', 'profiles']));
        return;
      case 'refused':
        dispatch(refused(message.because));
    }
  };

/** Motion ends when this window is hidden, loses the focus or goes away, and when Escape is pressed anywhere. */
export const stopWhenUnattended = (): AppThunk => (dispatch) => {
  const stopNow = () => dispatch(stop());
  document.addEventListener('visibilitychange', () => {
    dispatch(endJog());
    if (document.hidden) stopNow();
  });
  window.addEventListener('blur', () => {
    dispatch(stopped());
    dispatch(endJog());
  });
  window.addEventListener('pagehide', stopNow);
  // Before any dialog or menu that closes by it.
  window.addEventListener('keydown', (event) => event.key === 'Escape' && stopNow(), { capture: true });
};
