import { cleanup, fireEvent, render, screen } from '@testing-library/react';
import { afterEach, expect, it } from 'vitest';
import { FileMenu } from './FileMenu';

afterEach(cleanup);

it('keeps several files behind one button, each a link that saves it', () => {
  render(
    <FileMenu
      label="Save as"
      groups={[{ files: [['Table', '/a.csv']] }, { title: 'Cello', files: [['Its part', '/b.xml']] }]}
    />,
  );
  expect(screen.queryByRole('menuitem')).toBeNull();
  fireEvent.click(screen.getByRole('button', { name: 'Save as' }));
  const items = screen.getAllByRole('menuitem');
  expect(
    items.map((item) => [item.textContent, item.getAttribute('href'), item.hasAttribute('download')]),
  ).toEqual([
    ['Table', '/a.csv', true],
    ['Its part', '/b.xml', true],
  ]);
  expect(screen.getByText('Cello')).toBeTruthy();
});
