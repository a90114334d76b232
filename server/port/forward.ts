import { request, type IncomingMessage, type ServerResponse } from 'node:http';

/** Passes a request on to the data process and its answer back, piece by piece. */
export function forward(socketPath: string, asked: IncomingMessage, answer: ServerResponse): void {
  const passed = request({ socketPath, path: asked.url, method: asked.method, headers: asked.headers }, (response) => {
    answer.writeHead(response.statusCode ?? 502, response.headers);
    response.pipe(answer);
    response.on('error', () => answer.destroy());
  });
  passed.on('error', () => {
    if (answer.headersSent) return void answer.destroy();
    const problem = {
      type: 'about:blank',
      status: 503,
      title: 'The data process does not respond.',
      detail: 'It is being started again. Nothing has been saved; your edits are kept in this window.',
    };
    answer.writeHead(503, { 'content-type': 'application/problem+json' }).end(JSON.stringify(problem));
    asked.resume();
  });
  asked.on('error', () => passed.destroy());
  answer.on('close', () => passed.destroy());
  asked.pipe(passed);
}
