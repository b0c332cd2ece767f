import { ThemeProvider } from '@mui/material/styles';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { render } from '@testing-library/react';
import type { ReactNode } from 'react';
import { MemoryRouter, Route, Routes } from 'react-router';
import { answerWith } from './testing-network';
import { theme } from './theme';

/** A request that the page sent. */
export interface Sent {
  method: string;
  path: string;
  query: URLSearchParams;
  body: unknown;
}

/** Answers of the server by `METHOD path`, the path without its class; what is not here is answered with 204. */
export type Answers = Record<string, (sent: Sent) => { status?: number; json: unknown }>;

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
      body: json ? JSON.parse(text) : text,
    };
    sent.push(one);
    const found = answers[`${one.method} ${one.path}`];
    if (!found) return new Response(null, { status: 204 });
    const { status = 200, json: body } = found(one);
    return new Response(JSON.stringify(body), { status, headers: { 'content-type': 'application/json' } });
  };
  answerWith(answer);
  return sent;
}

/** A place of class `c1` on the screen. */
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

export const director = () => ({ json: { role: 'director', children: [], strands: [] } });
