// @vitest-environment jsdom
/** A press acts on what it was aimed at, and not on what came into its place. */
import { act, cleanup, fireEvent, render, screen } from '@testing-library/react';
import { useState } from 'react';
import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import { watchAim } from '../../web/src/primitives/aimed';
import { useScreenKeys } from '../../web/src/primitives/screen-keys';

let end: () => void;
beforeEach(() => {
  end = watchAim();
});
afterEach(() => {
  end();
  cleanup();
});

const ASKED = ['Inspect it?', 'Loan wanted?', 'Rented?'];

/** One question after the other, each answered by its button or by "1". */
function Questions({ said }: { said: (question: string) => void }) {
  const [at, setAt] = useState(0);
  const question = ASKED[at] ?? 'Done';
  const say = () => {
    said(question);
    setAt(at + 1);
  };
  useScreenKeys((e) => e.key === '1' && say());
  return (
    <button key={question} onClick={say}>
      <span>{question}</span>
    </button>
  );
}

/** A click as a browser makes it: `detail` counts the clicks on the spot. */
const click = (name: string, detail: number) => fireEvent.click(screen.getByText(name), { detail });

test("the second click of a double click doesn't answer the next question", () => {
  const said = vi.fn();
  render(<Questions said={said} />);
  click('Inspect it?', 1);
  click('Loan wanted?', 2);
  click('Loan wanted?', 3);
  expect(said.mock.calls).toEqual([['Inspect it?']]);
  click('Loan wanted?', 1);
  expect(said.mock.calls).toEqual([['Inspect it?'], ['Loan wanted?']]);
});

test('a double click on what stays is two clicks, on a label as on its box', () => {
  const pressed = vi.fn();
  render(
    <>
      <button onClick={pressed}>
        <b>One more</b>
        <i>day</i>
      </button>
      <label>
        Signed
        <input type="checkbox" onClick={pressed} />
      </label>
    </>,
  );
  click('One more', 1);
  click('day', 2);
  expect(pressed).toHaveBeenCalledTimes(2);
  const box = screen.getByRole('checkbox');
  fireEvent.click(box, { detail: 1 });
  fireEvent.click(box.closest('label')!, { detail: 2 });
  expect(pressed).toHaveBeenCalledTimes(4);
});

test('a press by a script or a key counts as its own', () => {
  const said = vi.fn();
  render(<Questions said={said} />);
  for (const question of ASKED) act(() => screen.getByText(question).click());
  expect(said).toHaveBeenCalledTimes(3);
});

/** Keys as they come from what has the focus; gives whether the browser may do what it does by itself. */
const press = (target: Element, key: string, repeat = false) => fireEvent.keyDown(target, { key, repeat });

test('a held key acts where it was pressed, and on nothing behind it', () => {
  const said = vi.fn();
  render(<Questions said={said} />);
  const first = screen.getByRole('button');
  press(first, '1');
  const next = screen.getByRole('button');
  expect(next).not.toBe(first);
  expect(press(next, '1', true)).toBe(false);
  expect(press(next, 'Enter', true)).toBe(false);
  expect(said.mock.calls).toEqual([['Inspect it?']]);
  press(next, '1');
  expect(said).toHaveBeenCalledTimes(2);
});

test('held keys that lead go on, and so do those of a field', () => {
  const onKeyDown = vi.fn();
  render(
    <div onKeyDown={onKeyDown}>
      <input aria-label="Price" />
      <input aria-label="Day" />
    </div>,
  );
  const [price, day] = screen.getAllByRole('textbox');
  press(price!, 'ArrowDown');
  for (const key of ['ArrowDown', 'ArrowUp', 'Tab', 'PageDown', 'Home', 'End']) expect(press(day!, key, true)).toBe(true);
  press(price!, 'Backspace');
  expect(press(price!, 'Backspace', true)).toBe(true);
  expect(onKeyDown).toHaveBeenCalledTimes(9);
  expect(press(day!, 'Backspace', true)).toBe(false);
});

test("a screen's keys are heard while it is on, and by what it shows now", () => {
  const heard: string[] = [];
  const Screen = ({ name, on }: { name: string; on: boolean }) => {
    useScreenKeys((e) => heard.push(`${name} ${e.key}`), on);
    return null;
  };
  const { rerender, unmount } = render(<Screen name="facts" on />);
  press(document.body, 'a');
  rerender(<Screen name="paper" on />);
  press(document.body, 'b');
  rerender(<Screen name="paper" on={false} />);
  press(document.body, 'c');
  rerender(<Screen name="paper" on />);
  unmount();
  press(document.body, 'd');
  expect(heard).toEqual(['facts a', 'paper b']);
});
