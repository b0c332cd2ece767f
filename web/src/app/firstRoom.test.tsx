import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { act, cleanup, render, screen } from '@testing-library/react';
import { createMemoryRouter, Outlet, RouterProvider } from 'react-router';
import { afterEach, expect, test } from 'vitest';
import { director, serverThat } from '../testing/server';
import { answerWith } from '../testing/network';
import { FirstRoom } from './FirstRoom';

afterEach(cleanup);

/** An answer that comes when the test lets it. */
function later<T>() {
  let resolve: (value: T) => void = () => undefined;
  const promise = new Promise<T>((answered) => (resolve = answered));
  return { promise, resolve };
}

/** The first page, and one that comes when the test lets it. */
function opened(school: Promise<undefined>) {
  const router = createMemoryRouter([
    {
      path: '/',
      element: <Outlet context={{ programs: [] }} />,
      children: [
        { index: true, Component: FirstRoom },
        { path: 'school', lazy: { Component: async () => school.then(() => () => <p>The school</p>) } },
        { path: 'class/:classId/room', element: <p>The room</p> },
      ],
    },
  ]);
  render(
    <QueryClientProvider client={new QueryClient()}>
      <RouterProvider router={router} />
    </QueryClientProvider>,
  );
  return router;
}

test('the room of the first class opens by itself', async () => {
  serverThat({ 'GET /api/classes': director });
  opened(Promise.resolve(undefined));
  await screen.findByText('The room');
});

test('whoever taps a page before the classes have come gets that page', async () => {
  const classes = later<Response>();
  answerWith(() => classes.promise);
  const school = later<undefined>();
  const router = opened(school.promise);
  await screen.findByText(/Opening/);
  act(() => void router.navigate('/school'));
  await act(async () => {
    classes.resolve(Response.json(director().json));
    await classes.promise;
  });
  expect(screen.queryByText('The room')).toBeNull();
  school.resolve(undefined);
  await screen.findByText('The school');
  expect(router.state.location.pathname).toBe('/school');
});
