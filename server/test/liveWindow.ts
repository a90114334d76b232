import type { ClientMessage, LiveState, ServerMessage, SpindleLive } from '@kavrid/contract';
import { WebSocket } from 'ws';

/** Windows without a screen, on the live line of a server. */
export function windowsOf(port: () => number) {
  const windows: { readonly close: () => void }[] = [];
  return {
    closeAll: () => windows.splice(0).forEach((window) => window.close()),
    async openWindow(axisId: string) {
      const socket = new WebSocket(`ws://127.0.0.1:${port()}/live`);
      await new Promise((resolve) => socket.on('open', resolve));
      const messages: ServerMessage[] = [];
      socket.on('message', (data) => messages.push(JSON.parse(String(data)) as ServerMessage));
      const say = (message: ClientMessage) => socket.send(JSON.stringify(message));
      say({ type: 'watch', axisId });
      const alive = setInterval(() => say({ type: 'alive' }), 40);
      const newest = <T extends ServerMessage['type']>(type: T) =>
        messages.filter((message): message is Extract<ServerMessage, { type: T }> => message.type === type).at(-1);
      const until = async (what: string, done: () => boolean, seconds = 10) => {
        for (const end = Date.now() + seconds * 1000; !done();) {
          if (Date.now() > end)
            throw new Error(
              `waited in vain until ${what}: ${JSON.stringify(newest('live'))} ${JSON.stringify(newest('refused'))}`,
            );
          await new Promise((resolve) => setTimeout(resolve, 10));
        }
      };
      const liveOf = <K extends 'axis' | 'spindle'>(kind: K) => {
        const live = newest('live')?.live;
        return live?.kind === kind ? (live as K extends 'axis' ? LiveState : SpindleLive) : undefined;
      };
      const close = () => (clearInterval(alive), socket.terminate());
      windows.push({ close });
      return {
        say,
        newest,
        until,
        state: () => liveOf('axis'),
        spindle: () => liveOf('spindle'),
        close,
        silence: () => clearInterval(alive),
      };
    },
  };
}
