import type { ClientMessage, LiveState, ServerMessage, SpindleLive } from '@kavrid/contract';
import { WebSocket } from 'ws';

/** Windows without a screen, on the live line of a server. */
export function windowsOf(port: () => number) {
  const windows: { readonly close: () => void }[] = [];
  return {
    closeAll: () => windows.splice(0).forEach((window) => window.close()),
    async openWindow(memberId: string) {
      const socket = new WebSocket(`ws://127.0.0.1:${port()}/live`);
      await new Promise((resolve) => socket.on('open', resolve));
      const messages: ServerMessage[] = [];
      const waiting = new Set<() => void>();
      socket.on('message', (data) => {
        messages.push(JSON.parse(String(data)) as ServerMessage);
        for (const look of [...waiting]) look();
      });
      const say = (message: ClientMessage) => socket.send(JSON.stringify(message));
      say({ type: 'watch', memberId });
      const alive = setInterval(() => say({ type: 'alive' }), 40);
      const newest = <T extends ServerMessage['type']>(type: T) =>
        messages.filter((message): message is Extract<ServerMessage, { type: T }> => message.type === type).at(-1);
      /** Settles with the message that makes it so. */
      const until = (what: string, done: () => boolean, seconds = 60) =>
        new Promise<void>((resolve, reject) => {
          const timer = setTimeout(() => {
            waiting.delete(look);
            reject(
              new Error(
                `waited in vain until ${what}: ${JSON.stringify(newest('live'))} ${JSON.stringify(newest('refused'))}`,
              ),
            );
          }, seconds * 1000);
          const look = () => {
            if (!done()) return;
            waiting.delete(look);
            clearTimeout(timer);
            resolve();
          };
          waiting.add(look);
          look();
        });
      const liveOf = <K extends 'axis' | 'spindle'>(kind: K) => {
        const live = newest('live')?.live;
        return live?.kind === kind ? (live as K extends 'axis' ? LiveState : SpindleLive) : undefined;
      };
      const close = () => (clearInterval(alive), socket.terminate());
      windows.push({ close });
      const version = () => newest('live')?.live.version ?? 1;
      return {
        say,
        newest,
        until,
        version,
        state: () => liveOf('axis'),
        spindle: () => liveOf('spindle'),
        /** Waits for a refusal that says this. */
        refused: (words: string) =>
          until(`refused: ${words}`, () =>
            messages.some((message) => message.type === 'refused' && message.because.includes(words)),
          ),
        /** Opens the link, reads, writes what differs and proves it. */
        async prove() {
          await until('watched', () => newest('live')?.live.version !== undefined);
          if (newest('live')?.live.link !== 'up') say({ type: 'connect', version: version() });
          await until(
            'linked',
            () => newest('live')?.live.link === 'up' && newest('live')?.live.deviceState !== undefined,
          );
          if (newest('live')?.live.temporary.some(({ isHere }) => isHere)) {
            say({ type: 'restore', isHostQuiet: true });
            await until('restored', () => newest('live')?.live.temporary.length === 0);
          }
          say({ type: 'readDrive', version: version() });
          await until('read', () => newest('driveData')?.driveData.procedure.phase === 'review');
          say({ type: 'writeDrive', version: version() });
          await until('proven', () => newest('driveData')?.driveData.procedure.phase === 'proven');
        },
        close,
        silence: () => clearInterval(alive),
      };
    },
  };
}
