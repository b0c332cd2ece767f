import { ThemeProvider } from '@mui/material/styles';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { render } from '@testing-library/react';
import type { ReactNode } from 'react';
import { afterEach, expect } from 'vitest';
import { MemoryRouter, Route, Routes } from 'react-router';
import { answerWith } from './network';
import { theme } from '../theme';

/** A request that the page sent. */
export interface Sent {
  method: string;
  path: string;
  query: URLSearchParams;
  headers: Headers;
  body: unknown;
}

/** Answers of the server by `METHOD path`, the path without its class; what is not here is a fault of the
 * test: it is answered as no server would, and the test fails. */
export type Answers = Record<string, (sent: Sent) => { status?: number; json?: unknown }>;

/** What nearly every page asks for and most tests are not about: nothing is drawn. */
const NOTHING_DRAWN = {
  class: { checkpoints: {}, slips: {}, steps: {}, options: {} },
  children: {},
};

/** Requests that no test had an answer for. */
const unexpected: string[] = [];

afterEach(() => {
  expect(unexpected.splice(0), 'requests that the test has no answer for').toEqual([]);
});

/** Puts a server in the place of the network; the requests it got are gathered. */
export function serverThat(answers: Answers): Sent[] {
  const sent: Sent[] = [];
  const answer = async (input: RequestInfo | URL, init?: RequestInit): Promise<Response> => {
    const request =
      input instanceof Request ? input : new Request(new URL(String(input), 'http://here'), init);
    const url = new URL(request.url);
    const text = await request.clone().text();
    const path = url.pathname.replace('/api/classes/c1', '');
    const json = request.headers.get('content-type')?.includes('json');
    const one: Sent = {
      method: request.method,
      path,
      query: url.searchParams,
      headers: request.headers,
      body: json ? JSON.parse(text) : text,
    };
    if (one.path === '/drawings' && !answers['GET /drawings'])
      return new Response(JSON.stringify(NOTHING_DRAWN), { headers: { 'content-type': 'application/json' } });
    sent.push(one);
    const found = answers[`${one.method} ${one.path}`];
    if (!found) {
      unexpected.push(`${one.method} ${one.path}`);
      return new Response(null, { status: 501 });
    }
    const { status = 200, json: body } = found(one);
    if (status === 204) return new Response(null, { status });
    return new Response(JSON.stringify(body), { status, headers: { 'content-type': 'application/json' } });
  };
  answerWith(answer);
  return sent;
}

/** A page of class `c1` on the screen. */
export function show(
  element: ReactNode,
  path = '/class/:classId/step',
  address = '/class/c1/step',
  client = new QueryClient({ defaultOptions: { queries: { retry: false } } }),
) {
  return render(
    <ThemeProvider theme={theme}>
      <QueryClientProvider client={client}>
        <MemoryRouter initialEntries={[address]}>
          <Routes>
            <Route path={path} element={element} />
            <Route path="*" element={<p>elsewhere</p>} />
          </Routes>
        </MemoryRouter>
      </QueryClientProvider>
    </ThemeProvider>,
  );
}

/** Done, and nothing to say about it. */
export const done = () => ({ status: 204 });

/** The classes, where whoever is signed in has this role in class `c1`. */
export const classesAs = (role: string) => () => ({
  json: [
    {
      id: 'c1',
      name: 'First-year strings',
      role,
      mayChange: role === 'owner' || role === 'director',
      looksBack: role !== 'substitute',
    },
  ],
});

export const director = classesAs('director');
