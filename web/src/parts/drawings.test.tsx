import { cleanup, fireEvent, screen, within } from '@testing-library/react';
import { afterEach, describe, expect, it, vi } from 'vitest';
import type { Schemas } from '../api/client';
import { queryClient } from '../api/queries';
import { ask, type Question } from '../core/door';
import { answerWith } from '../testing/network';
import { prefersStill } from '../testing/motion';
import { serverThat, show } from '../testing/server';
import { LABELS, touchWords } from '../words/figures';
import { parameterWords, UNITS, VIEWS, viewsInOrder } from '../words/figureNumbers';
import { Becoming } from './Becoming';
import { DrawnFor, LookDrawing, SlipDrawing } from './drawings';
import { Figure } from './Figure';

afterEach(() => {
  cleanup();
  answerWith(undefined);
  queryClient.clear();
  vi.unstubAllGlobals();
});

type Spec = Question<'figure'>['spec'];
const thumb: Spec = { view: 'bow-hand', set: { seen: 'end' } };
const locked: Spec = { view: 'bow-hand', set: { seen: 'end', thumb_bend: -24 }, amiss: ['thumb'] };

const drawings: Schemas['DrawingsOfClass'] = {
  class: {
    checkpoints: {
      'bow.thumb': {
        violin: { look: thumb, proof: { view: 'bow-hand' } },
        cello: { look: { view: 'bow-hand' } },
      },
    },
    slips: {},
    steps: {},
    options: {},
  },
  children: { lax: { checkpoints: { 'bow.thumb': {} }, slips: {}, steps: {}, options: {} } },
};

function look(instrument: 'violin' | 'bass', { child, mirror }: { child?: string; mirror: boolean }) {
  serverThat({
    'GET /drawings': () => ({ json: drawings }),
    'GET /api/classes': () => ({ json: [{ id: 'c1', name: 'One', mirror }] }),
  });
  show(
    <DrawnFor classId="c1" instrument={instrument} child={child}>
      <LookDrawing
        checkpoint="bow.thumb"
        name="Curved thumb"
        lookFor="Thumb bent"
        proof="The nail is seen"
        cue="Soft and bumpy"
      />
      <p>beside it</p>
    </DrawnFor>,
    '/',
    '/',
  );
}

describe('a drawing', () => {
  it('says in words what is looked for and what touches what', () => {
    show(<Figure spec={thumb} instrument="violin" what="Thumb bent" />, '/', '/');
    const name = screen.getByRole('img').getAttribute('aria-label');
    expect(name).toBe('Thumb bent. Drawn: thumb on the front of the frog, middle finger on the stick.');
    const paths = document.querySelectorAll('svg path');
    expect(paths.length).toBeGreaterThan(8);
    expect(paths[0]?.getAttribute('d')).toMatch(/^M[-\d.]+,[-\d.]+/);
  });

  it('is the same in a mirror, turned round, and lies behind what it becomes', () => {
    const asked = { instrument: 'violin', spec: thumb } as const;
    const right = ask('figure', { ...asked, mirrored: false });
    const mirrored = ask('figure', { ...asked, mirrored: true });
    expect(mirrored.touches[0]?.x).toBeCloseTo(right.width - (right.touches[0]?.x ?? 0));
    const over = ask('figure', { ...asked, mirrored: false, before: locked });
    expect(over.shapes.map((shape) => shape.class)).toContain('amiss');
    expect(over.shapes.length).toBeGreaterThan(right.shapes.length);
    const ways = [0, 0.5, 1].map((share) =>
      ask('figure', { ...asked, mirrored: false, before: locked, share }),
    );
    expect(new Set(ways.map((drawn) => JSON.stringify(drawn.shapes))).size).toBe(3);
  });

  it('is worded whole: every view, number, unit and label has words', () => {
    for (const view of viewsInOrder) {
      expect(VIEWS[view].length).toBeGreaterThan(3);
      const { parameters, usual } = ask('viewNumbers', { instrument: 'cello', view });
      for (const { name, range } of parameters) {
        expect(parameterWords(name)).toMatch(/^[A-Z][a-z ]+$/);
        expect(usual[name]).toBeDefined();
        if (range.kind === 'number') expect(UNITS[range.unit]).toBeDefined();
      }
      const drawn = ask('figure', { instrument: 'cello', spec: { view }, mirrored: false });
      expect(touchWords(drawn.touches)).not.toContain('undefined');
      for (const { word } of drawn.labels) expect(LABELS[word]).toBeDefined();
    }
  });
});

describe('beside what is looked for', () => {
  it('opens large with its proof, and offers the mirror where the program has it', async () => {
    look('violin', { mirror: true });
    fireEvent.click(await screen.findByRole('button', { name: 'Curved thumb as a drawing, large' }));
    const dialog = await screen.findByRole('dialog', { name: 'Curved thumb' });
    expect(within(dialog).getAllByRole('img')).toHaveLength(2);
    expect(dialog.textContent).toContain('Proof: The nail is seen');
    fireEvent.click(await within(dialog).findByRole('button', { name: 'Mirror' }));
    const mirror = await screen.findByRole('dialog', { name: 'Thumb bent' });
    expect(mirror.textContent).toContain('rules on pictures come first');
    expect(within(mirror).queryByRole('button', { name: 'Once more' })).toBeNull();
    // No camera here: it says so, and the drawing stays.
    fireEvent.click(within(mirror).getByRole('button', { name: 'Camera on' }));
    expect((await within(mirror).findByRole('alert')).textContent).toContain('No camera was found');
    expect(within(mirror).getByRole('img', { name: /as in a mirror/ })).toBeTruthy();
  });

  it('has the other beside it only where it is about a class that sees both', async () => {
    const seen = { look: thumb, other: locked };
    const both = { ...drawings.class, checkpoints: { 'bow.thumb': { violin: seen } } };
    serverThat({
      'GET /drawings': () => ({ json: { ...drawings, class: both } }),
      'GET /api/classes': () => ({ json: [] }),
    });
    const about = { checkpoint: 'bow.thumb', lookFor: 'Thumb bent' };
    show(
      <DrawnFor classId="c1" instrument="violin">
        <LookDrawing {...about} ofClass name="Of the class" />
        <LookDrawing {...about} name="Of a child" />
      </DrawnFor>,
      '/',
      '/',
    );
    for (const [name, words] of [
      ['Of the class', ['First the other: look at the thumb', 'Then: Thumb bent']],
      ['Of a child', ['Thumb bent']],
    ] as const) {
      fireEvent.click(await screen.findByRole('button', { name: `${name} as a drawing, large` }));
      const dialog = await screen.findByRole('dialog', { name });
      expect([...dialog.querySelectorAll('p')].map((said) => said.textContent)).toEqual(words);
      expect(dialog.querySelectorAll('.amiss')).toHaveLength(words.length - 1);
      fireEvent.click(within(dialog).getByRole('button', { name: 'Back' }));
      await vi.waitFor(() => expect(screen.queryByRole('dialog')).toBeNull());
    }
  });

  it('has no mirror where the program switched it off', async () => {
    look('violin', { mirror: false });
    fireEvent.click(await screen.findByRole('button', { name: /as a drawing/ }));
    const dialog = await screen.findByRole('dialog');
    expect(within(dialog).getByRole('button', { name: 'Back' })).toBeTruthy();
    expect(within(dialog).queryByRole('button', { name: 'Mirror' })).toBeNull();
  });

  it.each([
    ['bass', {}],
    ['violin', { child: 'lax' }],
  ] as const)('is not there where nothing is drawn or something else counts: %s %o', async (on, of) => {
    look(on, { mirror: true, ...of });
    await screen.findByText('beside it');
    await vi.waitFor(() => expect(queryClient.isFetching()).toBe(0));
    expect(screen.queryByRole('button', { name: /as a drawing/ })).toBeNull();
  });
});

describe('a slip that was ticked', () => {
  it('lies as a fine line behind what is right, with its lozenge', async () => {
    const slips = { 'bow-thumb-lock': { violin: { amiss: locked, right: thumb } } };
    serverThat({ 'GET /drawings': () => ({ json: { ...drawings, class: { ...drawings.class, slips } } }) });
    show(
      <DrawnFor classId="c1" instrument="violin">
        <SlipDrawing slip="bow-thumb-lock" help="Bend the thumb" />
        <SlipDrawing slip="of-another-kind" help="Nothing drawn" />
      </DrawnFor>,
      '/',
      '/',
    );
    expect((await screen.findByRole('img')).getAttribute('aria-label')).toContain(
      'Bend the thumb. Drawn: thumb',
    );
    expect(document.querySelectorAll('.faded').length).toBeGreaterThan(0);
    expect(document.querySelectorAll('.amiss')).toHaveLength(1);
  });
});

describe('how it becomes right', () => {
  it('moves there, and once more with a tap', () => {
    prefersStill(false);
    show(<Becoming amiss={locked} right={thumb} instrument="violin" help="Bend the thumb" />, '/', '/');
    expect(screen.getAllByRole('img')).toHaveLength(1);
    fireEvent.click(screen.getByRole('button', { name: 'Show once more how it becomes right: thumb' }));
    expect(document.querySelector('.amiss')).toBeTruthy();
  });

  it('stands side by side where nothing may move', () => {
    prefersStill(true);
    show(<Becoming amiss={locked} right={thumb} instrument="violin" help="Bend the thumb" />, '/', '/');
    const [before, right] = screen.getAllByRole('img');
    expect(before?.getAttribute('aria-label')).toContain('Before: look at the thumb');
    expect(right?.getAttribute('aria-label')).toContain('Bend the thumb');
  });
});
