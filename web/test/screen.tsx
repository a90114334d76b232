import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import {
  axesAmong,
  machineFileSchema,
  spindlesAmong,
  type AxisDocument,
  type AxisRecord,
  type SpindleDocument,
} from '@kavrid/contract';
import { ThemeProvider } from '@mui/material/styles';
import { cleanup, render } from '@testing-library/react';
import { userEvent, type UserEvent } from '@testing-library/user-event';
import { useMemo, type ReactNode } from 'react';
import { Provider } from 'react-redux';
import { createMemoryRouter, RouterProvider } from 'react-router';
import { afterEach, beforeEach, vi } from 'vitest';
import { axisComputation } from '../member/axisComputation.ts';
import { spindleComputation } from '../member/spindleComputation.ts';
import { MemberContext } from '../member/memberContext.ts';
import { loaded, type Draft } from '../store/drafts.ts';
import { makeStore, useAppSelector, type Store } from '../store/store.ts';
import type { RootState } from '../store/rootState.ts';
import { workshopTheme } from '../ui/theme.ts';

const demo = machineFileSchema.parse(
  JSON.parse(readFileSync(join(import.meta.dirname, '../../demo/tile-glazing-cell.json'), 'utf8')),
);
export const demoAxes: readonly AxisDocument[] = axesAmong(demo.axes);
const [grinder] = spindlesAmong(demo.axes);
if (!grinder) throw new Error('the demo has no spindle');
export const demoSpindle: SpindleDocument = grinder;
const [carriage] = demoAxes;
if (!carriage) throw new Error('the demo has no axis');
export const demoAxis: AxisDocument = carriage;

export const axisRecord = (version = 1, document: AxisDocument = demoAxis): AxisRecord => ({
  id: 'a',
  machineId: 'm',
  version,
  updatedAt: '2026-01-02T03:04:05.000Z',
  document,
});

export interface Request {
  readonly method: string;
  readonly path: string;
  readonly query: URLSearchParams;
  readonly body: unknown;
}
type Reply = unknown;

/** What the server would answer, by `METHOD /path`; a reply may be worked out from the request, or carry a status. */
export const replies = new Map<string, Reply | ((request: Request) => Reply)>();
export const requests: Request[] = [];
export const answer = (status: number, body: unknown) => ({ status, body, isAnswer: true as const });

const stores: Pick<Store, 'replaceReducer'>[] = [];

/** Ends a store with its test: what it would still save, or send again, would come in the midst of another. */
export function endedWithTest<S extends Pick<Store, 'replaceReducer'>>(store: S): S {
  stores.push(store);
  return store;
}

/** Each test with a server, a browser’s storage and stores of its own; called in the set-up of each test file, which share their modules. */
export function eachAlone(): void {
  beforeEach(() => {
    replies.clear();
    requests.length = 0;
    // jsdom goes through every rule of every style sheet for each element asked about; what an element says itself is enough.
    // It has neither paper nor a canvas to draw on.
    vi.stubGlobal('matchMedia', () => ({ matches: false, addEventListener() {}, removeEventListener() {} }));
    vi.spyOn(HTMLCanvasElement.prototype, 'getContext').mockReturnValue(null);
    vi.stubGlobal('getComputedStyle', (element: HTMLElement) => element.style);
    // The requests of Node know neither relative addresses nor the signals of jsdom.
    const NodeRequest = globalThis.Request;
    vi.stubGlobal(
      'Request',
      class extends NodeRequest {
        constructor(input: string, { signal: _, ...init }: RequestInit = {}) {
          super(new URL(input, 'http://localhost'), init);
        }
      },
    );
    vi.stubGlobal('fetch', async (input: string | globalThis.Request, init: RequestInit = {}) => {
      const given = typeof input === 'string' ? undefined : input;
      const url = new URL(given?.url ?? String(input), 'http://localhost');
      const text = given ? await given.clone().text() : typeof init.body === 'string' ? init.body : '';
      const request: Request = {
        method: given?.method ?? init.method ?? 'GET',
        path: url.pathname.replace('/api', ''),
        query: url.searchParams,
        body: text.startsWith('{') ? (JSON.parse(text) as unknown) : text,
      };
      requests.push(request);
      const reply = replies.get(`${request.method} ${request.path}`);
      const made: unknown = typeof reply === 'function' ? (reply as (r: Request) => Reply)(request) : reply;
      const { status, body } =
        typeof made === 'object' && made !== null && 'isAnswer' in made
          ? (made as ReturnType<typeof answer>)
          : made === undefined
            ? { status: 404, body: { type: 'about:blank', status: 404, title: `There is no ${request.path}.` } }
            : { status: 200, body: made };
      return new Response(status === 204 ? null : typeof body === 'string' ? body : JSON.stringify(body), {
        status,
        headers: { 'content-type': 'application/json' },
      });
    });
  });
  afterEach(() => {
    cleanup();
    for (const store of stores.splice(0)) store.replaceReducer((state) => ({ ...(state as RootState), drafts: {} }));
    vi.unstubAllGlobals();
    localStorage.clear();
  });
}

type AxisDraft = Draft & { readonly document: AxisDocument };
type SpindleDraft = Draft & { readonly document: SpindleDocument };

function WithSpindle({ children }: { readonly children: ReactNode }) {
  const draft = useAppSelector((state) => state.drafts.a) as SpindleDraft;
  const value = useMemo(
    () => ({ memberId: 'a', draft, document: draft.document, computation: spindleComputation(draft.document) }),
    [draft],
  );
  return <MemberContext value={value}>{children}</MemberContext>;
}

function WithAxis({ children }: { readonly children: ReactNode }) {
  const draft = useAppSelector((state) => state.drafts.a) as AxisDraft;
  const lengths = useAppSelector((state) => state.preferences.lengths);
  const value = useMemo(
    () => ({ memberId: 'a', draft, document: draft.document, computation: axisComputation(draft.document, lengths) }),
    [draft, lengths],
  );
  return <MemberContext value={value}>{children}</MemberContext>;
}

/** Puts text at the end of a field in one go, as from the clipboard: a key at a time draws the whole view each time. */
export async function typeInto(user: UserEvent, field: Element, text: string): Promise<void> {
  await user.click(field);
  await user.paste(text);
}

/** Shows something as the app would, with a store of its own and, where given, an axis on screen. */
export function show(
  children: ReactNode,
  options: {
    readonly axis?: AxisRecord;
    readonly spindle?: SpindleDocument;
    readonly at?: string;
    readonly path?: string;
  } = {},
) {
  const store = endedWithTest(makeStore());
  if (options.axis) store.dispatch(loaded({ record: options.axis }));
  const { spindle } = options;
  if (spindle) store.dispatch(loaded({ record: { ...axisRecord(), document: spindle } }));
  const element = options.axis ? (
    <WithAxis>{children}</WithAxis>
  ) : spindle ? (
    <WithSpindle>{children}</WithSpindle>
  ) : (
    children
  );
  const router = createMemoryRouter(
    [
      { path: options.path ?? '/', element },
      { path: '*', element: <p>elsewhere</p> },
    ],
    { initialEntries: [options.at ?? '/'] },
  );
  render(
    <Provider store={store}>
      <ThemeProvider theme={workshopTheme('light')}>
        <RouterProvider router={router} />
      </ThemeProvider>
    </Provider>,
  );
  return {
    store,
    router,
    user: userEvent.setup({ delay: null }),
    draft: () => store.getState().drafts.a as AxisDraft,
    spindle: () => (store.getState().drafts.a as SpindleDraft).document,
  };
}
