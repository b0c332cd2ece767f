import { cleanup, fireEvent, screen, waitFor } from '@testing-library/react';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { answerWith } from '../../testing/network';
import { serverThat, show } from '../../testing/server';
import { TuneBuilder } from './TuneBuilder';
import { TuneFile } from './TuneFile';

afterEach(() => {
  cleanup();
  answerWith(undefined);
});

const choose = (name: string) => {
  const input = screen.getByLabelText(/Read a tune/, { selector: 'input' });
  fireEvent.change(input, { target: { files: [new File(['x'], name)] } });
};

describe('a tune from a file', () => {
  it('is handed on, called as its file where it has no name, and what is left out is said', async () => {
    const onRead = vi.fn();
    serverThat({
      'POST /notes/file': () => ({
        json: {
          name: '',
          notes: 'D4 | G4:4',
          key: 'G',
          meter: '3/4',
          tempo: 90,
          leftOut: ['grace', 'chords'],
        },
      }),
    });
    show(<TuneFile classId="c1" onRead={onRead} />);
    choose('the fox.abc');
    await waitFor(() =>
      expect(onRead).toHaveBeenCalledWith({
        notes: 'D4 | G4:4',
        key: 'G',
        meter: '3/4',
        tempo: 90,
        name: 'the fox',
      }),
    );
    expect(screen.getByText(/grace notes and all but the first note of chords\.$/)).toBeTruthy();
  });

  it('that cannot be read says why, and hands nothing on', async () => {
    const onRead = vi.fn();
    serverThat({
      'POST /notes/file': () => ({
        status: 422,
        json: {
          type: 'x',
          title: 'x',
          status: 422,
          detail: 'x',
          errors: [{ field: 'file', detail: 'Nothing was taken: Bar 2 has 6 eighths instead of 8.' }],
        },
      }),
    });
    show(<TuneFile classId="c1" onRead={onRead} />);
    choose('a.xml');
    expect(await screen.findByText(/Bar 2 has 6 eighths/)).toBeTruthy();
    expect(onRead).not.toHaveBeenCalled();
  });
});

describe('a tune that is built', () => {
  it('takes a bar line, and the last note away with it', () => {
    const onChange = vi.fn();
    show(<TuneBuilder wishes={{ notes: 'D4 E4' }} onChange={onChange} file={null} />);
    fireEvent.click(screen.getByRole('button', { name: 'bar line' }));
    expect(onChange).toHaveBeenLastCalledWith({ notes: 'D4 E4 |' });
    cleanup();
    show(<TuneBuilder wishes={{ notes: 'D4 E4 |', tempo: 72 }} onChange={onChange} file={null} />);
    fireEvent.click(screen.getByRole('button', { name: 'Last note away' }));
    expect(onChange).toHaveBeenLastCalledWith({ notes: 'D4', tempo: 72 });
    const tempo = screen.getByLabelText('Tempo');
    expect((tempo as HTMLSelectElement).value).toBe('72');
    fireEvent.change(tempo, { target: { value: '' } });
    expect(onChange).toHaveBeenLastCalledWith({ notes: 'D4 E4 |' });
  });
});
