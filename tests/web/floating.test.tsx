// @vitest-environment jsdom
/** What floats stays where it opened. */
import { act, cleanup, fireEvent, render, screen } from '@testing-library/react';
import { afterEach, expect, test } from 'vitest';
import { Menu, MenuItem } from '../../web/src/primitives/menu';

afterEach(cleanup);

function Screen({ turn }: { turn: number }) {
  return (
    <>
      <Menu width={200} trigger={<button type="button">Somebody</button>}>
        <MenuItem run={() => undefined}>Sign out</MenuItem>
      </Menu>
      <main id="main">Turn {turn}</main>
    </>
  );
}

test('a menu that is opened at once stays open while the screen goes on', () => {
  const { rerender } = render(<Screen turn={1} />);
  act(() => {
    fireEvent.keyDown(screen.getByRole('button', { name: 'Somebody' }), {
      key: 'Enter',
    });
  });
  const item = screen.getByRole('menuitem', { name: 'Sign out' });
  expect(document.getElementById('main')!.contains(item)).toBe(true);
  rerender(<Screen turn={2} />);
  expect(screen.getByRole('menuitem', { name: 'Sign out' })).toBe(item);
});
