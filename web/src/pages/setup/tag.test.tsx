import { cleanup, screen } from '@testing-library/react';
import { afterEach, describe, expect, it } from 'vitest';
import { queryClient } from '../../api/queries';
import { answerWith } from '../../testing/network';
import { serverThat, show } from '../../testing/server';
import { TagPage } from './TagPage';

afterEach(() => {
  cleanup();
  answerWith(undefined);
  queryClient.clear();
});

const instrument = (programName: string) => ({ class: 'c1', asset: `of ${programName}`, programName });

describe('the code of a tag', () => {
  it('lets one choose where two schools have the same tag', async () => {
    serverThat({ 'GET /api/tags/C-07': () => ({ json: [instrument('North'), instrument('South')] }) });
    show(<TagPage />, '/i/:tag', '/i/C-07');
    const links = await screen.findAllByRole('link');
    expect(links.map((link) => [link.textContent.replace('C-07', ''), link.getAttribute('href')])).toEqual([
      ['North', '/class/c1/set-up/instruments/of North'],
      ['South', '/class/c1/set-up/instruments/of South'],
    ]);
  });

  it('says what to do where nobody may see an instrument of it', async () => {
    serverThat({
      'GET /api/tags/C-07': () => ({
        status: 404,
        json: { type: 'x', title: 'x', status: 404, detail: 'x' },
      }),
    });
    show(<TagPage />, '/i/:tag', '/i/C-07');
    expect(await screen.findByText(/ask the school's owner to let you in/)).toBeTruthy();
  });
});
