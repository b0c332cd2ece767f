import { act, cleanup, fireEvent, render, screen, waitFor, within } from '@testing-library/react';
import { afterEach, describe, expect, it, vi } from 'vitest';
import type { EarState, RunSoFar } from '../../core/hearing';
import type { ReactNode } from 'react';
import type { Marker, TapePage, TapeSpot } from '../../api/client';
import { queryClient } from '../../api/queries';
import { Fingerboard } from '../../parts/Fingerboard';
import { answerWith } from '../../testing/network';
import answers from '../../testing/answers.json';
import { serverThat, show } from '../../testing/server';
import { theme } from '../../theme';
import { ThemeProvider } from '@mui/material/styles';
import { QueryClientProvider } from '@tanstack/react-query';
import { RouterProvider, createBrowserRouter } from 'react-router';
import { boardLabel, boardMarkers, moveOf, moveWords, spotWords } from './board';
import { InstrumentPart } from './InstrumentPart';
import { PlacingPart } from './PlacingPart';
import { colouredName } from '../../words/markers';
import { centsOf, proofsOf, stepWords } from './proofs';

const OFF: { state: EarState; run: RunSoFar | undefined } = { state: 'off', run: undefined };
const ear = vi.hoisted(() => ({ now: {} as { state: EarState; run: RunSoFar | undefined } }));
ear.now = OFF;
vi.mock('../../parts/useEar', () => ({
  useEar: () => ({
    ...ear.now,
    moment: undefined,
    over: [],
    simulated: false,
    turnOn: vi.fn(),
    turnOff: vi.fn(),
  }),
}));

/** The violin that the server was asked about. */
const VIOLIN = answers.bench.asset;

afterEach(() => {
  cleanup();
  answerWith(undefined);
  queryClient.clear();
  localStorage.clear();
  ear.now = OFF;
});

function position(finger: string, semitones: number, change: Partial<Marker> = {}): Marker {
  const distance = 328 * (1 - 2 ** (-semitones / 12));
  return {
    finger,
    semitones,
    distanceMm: distance,
    edgeMm: distance - 1.5,
    gapMm: 0,
    mmPerCent: 0.15,
    notes: [
      { string: 'G3', note: 'A3', hz: 220 },
      { string: 'D4', note: 'E4', hz: 330 },
    ],
    earChecks: [],
    ...change,
  };
}

function spot(id: TapeSpot['spot'], change: Partial<TapeSpot> = {}): TapeSpot {
  return { spot: id, wanted: true, presence: 'on', proved: true, verdict: 'true', ...change };
}

const AGAINST = [{ string: 'D4', note: 'G4', openString: 'G3', relation: 'octave above', allowCents: 0 }];

const WHITE = { key: 'white', name: 'white', hex: '#f3ead6', ink: '#2b2420' } as const;
const BLUE = { key: 'blue', name: 'blue', hex: '#3f6c9e', ink: '#ffffff' } as const;

function page(change: Partial<TapePage> = {}): TapePage {
  return {
    asset: VIOLIN,
    tag: 'V-1',
    instrument: 'violin',
    size: '4/4',
    stringLengthMm: 328,
    usualLengthMm: 328,
    markers: { kind: 'tapes', short: false, colours: false, fingerColours: [WHITE, WHITE, WHITE, WHITE] },
    settings: {
      temperament: 'equal',
      align: 'middle',
      stripMm: 3,
      offsetMm: 0,
      toleranceCents: { true: 6, close: 12 },
      a4Hz: 440,
      colours: { plain: 'white', fingers: ['green', 'yellow', 'red', 'blue'] },
    },
    state: 'heard',
    need: 'nothing',
    spots: [spot('1'), spot('2'), spot('3')],
    positions: [
      position('1', 2),
      position('2', 4),
      position('3', 5, { earChecks: AGAINST }),
      position('4', 7),
    ],
    openStrings: [
      { note: 'G3', hz: 196 },
      { note: 'D4', hz: 293.7 },
    ],
    placingOrder: ['3', '1', '2'],
    thinning: { wanting: 'landing', child: 'Ada K.', landedLooks: 1, wantedLooks: 2 },
    log: [],
    director: true,
    basis: answers.bench.basis as unknown as TapePage['basis'],
    ...change,
  };
}

describe('a marker in words', () => {
  it('says how it is, and how far to move it in which direction', () => {
    expect(spotWords(spot('1', { presence: 'never', proved: false }))).toBe('not laid');
    expect(spotWords(spot('1', { cents: 4.4 }))).toBe('true (+4 cents)');
    expect(spotWords(spot('1', { proved: false, verdict: 'move', cents: -17 }))).toBe('off (−17 cents)');
    expect(moveWords(-2.04, 'mm')).toBe('move 2.0 mm towards the nut');
    expect(moveWords(0.8, 'in')).toBe('move 1/32 in towards the bridge');
    expect(moveWords(0.01, 'mm')).toBe('where it belongs');
  });

  it('moves as it was measured, else as far as its cents tell: sharp goes to the nut', () => {
    const measured = { edgeMm: 40, cents: 9, verdict: 'close' as const, moveMm: -1.4 };
    expect(moveOf(spot('1', { cents: 20 }), position('1', 2, { measured }))).toBe(-1.4);
    expect(moveOf(spot('1', { cents: 20 }), position('1', 2))).toBeCloseTo(-3);
    expect(moveOf(spot('1'), position('1', 2))).toBeUndefined();
  });
});

describe('the drawn fingerboard', () => {
  it('shows the class’s markers and what else is on, where they lie and where they belong', () => {
    const read = page({
      spots: [
        spot('1', { verdict: 'move', proved: false, cents: 17 }),
        spot('2', { presence: 'missing', proved: false }),
        spot('3'),
        spot('4', { wanted: false, presence: 'never' }),
      ],
    });
    const markers = boardMarkers(read, read.spots, 'mm');
    expect(markers.map(({ finger, on, off }) => [finger, on, off])).toEqual([
      ['1', true, true],
      ['2', false, false],
      ['3', true, false],
    ]);
    expect(markers[0]?.words).toBe('34.3 mm, +17 cents');
    expect((markers[0]?.foundMm ?? 0) - (markers[0]?.edgeMm ?? 0)).toBeCloseTo(17 * 0.15);
    expect(boardLabel(read, read.spots, 'mm')).toContain('2 at 66.2 mm, gone');
  });

  it('is in true proportion: lengths along the string keep their ratios, and words never lie on each other', () => {
    const markers = boardMarkers(page(), page().spots, 'mm');
    const { container } = render(
      <ThemeProvider theme={theme}>
        <Fingerboard
          instrument="violin"
          lengthMm={328}
          strings={['G3', 'D4', 'A4', 'E5']}
          stripMm={3}
          markers={markers}
          kind="tapes"
          label="A fingerboard"
        />
      </ThemeProvider>,
    );
    const nut = Number(container.querySelector('.nut')?.getAttribute('y')) + 7;
    const tops = [...container.querySelectorAll('.laid')].map((rect) => Number(rect.getAttribute('y')) - nut);
    const edges = markers.map(({ edgeMm }) => edgeMm);
    for (const [index, top] of tops.entries())
      expect(top / (tops[0] ?? 1)).toBeCloseTo((edges[index] ?? 0) / (edges[0] ?? 1), 6);
    const words = [...container.querySelectorAll('.name')].map((text) => Number(text.getAttribute('y')));
    for (const [index, y] of words.entries())
      if (index > 0) expect(y - (words[index - 1] ?? 0)).toBeGreaterThanOrEqual(26);
  });
});

describe('colours', () => {
  it('are said beside a marker where each finger has its own, and drawn as they really are', () => {
    const markers = { ...page().markers, colours: true, fingerColours: [WHITE, BLUE, WHITE, WHITE] };
    expect(colouredName('2', markers)).toBe('2 (blue)');
    expect(colouredName('low2', markers)).toBe('low 2 (blue)');
    expect(colouredName('thumb', markers)).toBe('thumb pad');
    expect(colouredName('2', page().markers)).toBe('2');
    expect(boardMarkers(page({ markers }), page().spots, 'mm')[1]?.colour).toBe(BLUE.hex);
  });
});

describe('proofs', () => {
  it('begin with the open string, offer steps only from proved markers, and always a tone and a tuner', () => {
    const read = page();
    const of = (finger: string, spots: TapeSpot[]) => {
      const which = read.positions.find((one) => one.finger === finger);
      return which ? proofsOf(which, read.positions, spots, read.openStrings).map(({ kind }) => kind) : [];
    };
    expect(of('3', read.spots)).toEqual(['openString', 'tone', 'tuner']);
    expect(of('2', read.spots)).toEqual(['step', 'step', 'tone', 'tuner']);
    expect(of('2', [spot('1', { proved: false }), spot('2'), spot('3', { proved: false })])).toEqual([
      'tone',
      'tuner',
    ]);
    expect([-1, 2, 3].map(stepWords)).toEqual(['a semitone', 'a whole tone', '3 semitones']);
    expect(['+7', '−12', '3,5', '', 'high'].map(centsOf)).toEqual([7, -12, 3.5, undefined, undefined]);
  });
});

function open(element: ReactNode, read: TapePage) {
  const { settings, markers } = read;
  const sent = serverThat({
    'GET /tapes': () => ({ json: { instruments: [], without: [], settings, markers, director: true } }),
    [`GET /tapes/${VIOLIN}`]: () => ({ json: read }),
    'POST /tapes/log': () => ({ json: { results: [{ outcome: 'stored' }] } }),
  });
  show(element, '/class/:classId/tapes/bench/:assetId', `/class/c1/tapes/bench/${VIOLIN}`, queryClient);
  return sent;
}

const logged = (sent: ReturnType<typeof serverThat>) =>
  sent
    .filter(({ path }) => path === '/tapes/log')
    .flatMap(({ body }) => (body as { entries: Record<string, unknown>[] }).entries);

describe('an instrument at the bench', () => {
  it('keeps a length only when it can be, and says what another probably meant', async () => {
    const sent = open(<InstrumentPart />, page());
    const field = await screen.findByLabelText('String, nut to bridge (mm)');
    const keep = within(screen.getByRole('region', { name: 'Measure' })).getByRole('button', {
      name: 'Save',
    });
    for (const [typed, words] of [
      ['690', /usual for a cello 4\/4: is it the right instrument/],
      ['12.9', /In inches it would be 327.7 mm/],
      ['0', /Type a length in millimetres/],
    ] as const) {
      fireEvent.change(field, { target: { value: typed } });
      fireEvent.click(keep);
      expect(await screen.findByText(words)).toBeTruthy();
    }
    expect(logged(sent)).toEqual([]);
    fireEvent.change(field, { target: { value: '327' } });
    fireEvent.click(keep);
    await waitFor(() =>
      expect(logged(sent)).toMatchObject([{ kind: 'measured', lengthMm: 327, asset: VIOLIN }]),
    );
  });

  it('logs what an ear says with its proof, and a tuner’s cents', async () => {
    const sent = open(<InstrumentPart />, page());
    fireEvent.click(await screen.findByRole('button', { name: 'marker 3 is high' }));
    await waitFor(() =>
      expect(logged(sent)).toMatchObject([
        { kind: 'heard', finger: '3', proof: 'openString', heard: 'high' },
      ]),
    );
    fireEvent.change(screen.getByLabelText('How to prove marker 1'), { target: { value: 'tuner' } });
    fireEvent.change(screen.getByLabelText('Cents off, marker 1'), { target: { value: '-7' } });
    fireEvent.click(screen.getByRole('button', { name: 'Save −7 cents' }));
    await waitFor(() =>
      expect(logged(sent)).toMatchObject([{}, { kind: 'heard', finger: '1', proof: 'tuner', cents: -7 }]),
    );
  });

  it('logs what the microphone heard beside the open string, with a tap', async () => {
    ear.now = { state: 'live', run: { cents: [-3, 14.4], pattern: undefined, finger: 0, off: 0 } };
    const sent = open(<InstrumentPart />, page());
    const hear = await screen.findByRole('group', { name: 'By the microphone, marker 3' });
    expect(within(hear).getByRole('status').textContent).toMatch(/^3 on \w: 14 cents high beside open \w\.$/);
    expect(logged(sent)).toEqual([]);
    fireEvent.click(within(hear).getByRole('button', { name: 'Save +14 cents' }));
    // A second tap is no second entry.
    expect(within(hear).getByRole<HTMLButtonElement>('button', { name: 'Saved +14 cents' }).disabled).toBe(
      true,
    );
    await waitFor(() =>
      expect(logged(sent)).toMatchObject([
        { kind: 'heard', finger: '3', proof: 'openString', cents: 14, microphone: true },
      ]),
    );
  });

  it('turns a page for every key, however fast they come', async () => {
    const read = page();
    const { settings, markers } = read;
    const assets = [VIOLIN, 'w', 'x', 'y'];
    serverThat({
      'GET /tapes': () => ({
        json: { instruments: assets.map((asset) => ({ asset })), without: [], settings, markers },
      }),
      ...Object.fromEntries(
        assets.map((asset) => [`GET /tapes/${asset}`, () => ({ json: { ...read, asset } })]),
      ),
    });
    window.history.pushState(null, '', `/class/c1/tapes/bench/${VIOLIN}`);
    const router = createBrowserRouter([
      { path: '/class/:classId/tapes/bench/:assetId', Component: InstrumentPart },
    ]);
    render(
      <ThemeProvider theme={theme}>
        <QueryClientProvider client={queryClient}>
          <RouterProvider router={router} />
        </QueryClientProvider>
      </ThemeProvider>,
    );
    await screen.findByRole('region', { name: 'Measure' });
    await waitFor(() => expect(queryClient.isFetching()).toBe(0));
    // All at once: nothing is drawn between two keys.
    const press = async (keys: string) => {
      await act(async () => {
        for (const key of keys) window.dispatchEvent(new KeyboardEvent('keydown', { key, cancelable: true }));
        await Promise.resolve();
      });
      return window.location.pathname.split('/').at(-1);
    };
    expect(await press(']]]')).toBe('y');
    expect(await press('[')).toBe('x');
    expect(await press('][')).toBe('x');
    // There is nothing before the first and after the last.
    expect(await press('[[[[')).toBe(VIOLIN);
    expect(await press(']]]]]')).toBe('y');
    router.dispose();
  });

  it('says what edges come to while they are typed, and keeps none that cannot be', async () => {
    const sent = open(<InstrumentPart />, page());
    const part = within(await screen.findByRole('region', { name: 'Measure' }));
    const edge = part.getByLabelText('Marker 1 (mm)');
    fireEvent.change(edge, { target: { value: '36' } });
    expect(part.getByText(/^\+\d+ cents, move 1\.\d mm towards the nut$/)).toBeTruthy();
    fireEvent.change(edge, { target: { value: '136' } });
    fireEvent.submit(edge);
    expect(part.getByRole('alert').textContent).toMatch(/^Marker 1 belongs near/);
    expect(logged(sent)).toEqual([]);
  });

  it('positions without a ruler by finger-widths, the anchor first', async () => {
    open(<PlacingPart />, page());
    fireEvent.click(await screen.findByRole('radio', { name: 'Without' }));
    expect(screen.queryByLabelText('String, nut to bridge (mm)')).toBeNull();
    fireEvent.click(screen.getByRole('button', { name: 'Next: marker 3' }));
    expect(screen.getByText(/finger-widths beyond marker 1, then by ear/)).toBeTruthy();
    expect(screen.getByText(/the anchor/)).toBeTruthy();
  });

  it('counts finger spaces on the bass from where 1 belongs, also when the marker between is not laid', async () => {
    const wanted = [spot('1'), spot('4', { presence: 'never', proved: false })];
    const bass = {
      positions: [position('1', 2), position('2', 3), position('4', 4)],
      spots: wanted,
      placingOrder: ['4'],
    };
    open(<PlacingPart />, page({ instrument: 'bass', size: '3/4', ...bass }));
    fireEvent.click(await screen.findByRole('radio', { name: 'Without' }));
    fireEvent.click(screen.getByRole('button', { name: 'Next: marker 4' }));
    expect(screen.getByText(/^two finger spaces beyond where 1 belongs/)).toBeTruthy();
  });
});
