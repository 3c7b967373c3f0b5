// @vitest-environment jsdom
/** Focus that is never lost, and notices that are never three alike. */
import { act, cleanup, fireEvent, render, screen } from '@testing-library/react';
import { useState } from 'react';
import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import { useFocusKept } from '../../web/src/primitives/focus-kept';
import { Notices, notify, withdraw } from '../../web/src/primitives/notices';

// What is laid out is seen: the test's document lays out nothing by itself.
beforeEach(() => {
  vi.spyOn(Element.prototype, 'getClientRects').mockReturnValue([{}] as unknown as DOMRectList);
  Element.prototype.scrollIntoView = vi.fn();
});
afterEach(() => {
  cleanup();
  vi.restoreAllMocks();
});

function List({ rows }: { rows: string[] }) {
  const [there, setThere] = useState(rows);
  useFocusKept('root');
  return (
    <div id="root">
      <button>Header</button>
      <main id="main" tabIndex={-1}>
        <ul>
          {there.map((row) => (
            <li key={row}>
              <a href={`#${row}`}>{row}</a>
              <button onClick={() => setThere(there.filter((r) => r !== row))}>Take out {row}</button>
            </li>
          ))}
        </ul>
        <input aria-label="Add" />
      </main>
    </div>
  );
}

const takeOut = async (row: string) => {
  const button = screen.getByRole('button', { name: `Take out ${row}` });
  button.focus();
  fireEvent.click(button);
  await act(() => new Promise((done) => setTimeout(done, 40)));
};

test('it goes to the same button of the next row, of the last row’s neighbor, and then past the fields to the work', async () => {
  render(<List rows={['one', 'two', 'three']} />);
  await takeOut('one');
  expect(document.activeElement?.textContent).toBe('Take out two');
  await takeOut('three');
  expect(document.activeElement?.textContent).toBe('Take out two');
  await takeOut('two');
  expect(document.activeElement?.id, 'not into a field unasked').toBe('main');
});

test('who leaves by pressing on nothing is let go', async () => {
  render(<List rows={['one', 'two']} />);
  const button = screen.getByRole('button', { name: 'Take out one' });
  button.focus();
  fireEvent.pointerDown(screen.getByRole('main'));
  button.blur();
  fireEvent.click(button);
  await act(() => new Promise((done) => setTimeout(done, 40)));
  expect(document.activeElement).toBe(document.body);
});

test('a notice that says the same takes the place of the other; three stand at most', () => {
  vi.useFakeTimers();
  render(<Notices />);
  act(() => ['one', 'two', 'two', 'three', 'four'].forEach((text) => notify(text)));
  expect(screen.getAllByRole('button', { name: 'Close this notice' })).toHaveLength(3);
  expect(screen.queryByText('one')).toBeNull();
  expect(screen.getAllByText('two')).toHaveLength(1);
  act(() => vi.advanceTimersByTime(8_000));
  expect(screen.queryByText('four')).toBeNull();
  vi.useRealTimers();
});

test('a notice gives way to what is said of the same later, and goes with what it spoke of', () => {
  vi.useFakeTimers();
  render(<Notices />);
  act(() => notify('The 5th has passed', { about: 'late' }));
  act(() => notify('Taken out', { about: 'step 1' }));
  act(() => notify('The 6th has passed', { about: 'late' }));
  expect(screen.queryByText('The 5th has passed')).toBeNull();
  expect(screen.getByText('Taken out')).toBeTruthy();
  act(() => withdraw('step 1'));
  expect(screen.queryByText('Taken out')).toBeNull();
  expect(screen.getByText('The 6th has passed')).toBeTruthy();
  act(() => vi.runAllTimers());
  vi.useRealTimers();
});
