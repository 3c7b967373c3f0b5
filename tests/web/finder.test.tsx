// @vitest-environment jsdom
import { cleanup, fireEvent, render, screen } from '@testing-library/react';
import { useState } from 'react';
import { afterEach, expect, test } from 'vitest';
import { Finder } from '../../web/src/primitives/finder';

afterEach(cleanup);
let picked: string[] = [];

function Field({ found, fresh }: { found: string[]; fresh: boolean }) {
  const [text, setText] = useState('');
  return (
    <Finder
      label="Find"
      placeholder=""
      listLabel="Found"
      text={text}
      onText={setText}
      found={found}
      fresh={fresh}
      keyOf={(x) => x}
      onPick={(x) => picked.push(x)}
    >
      {(x) => x}
    </Finder>
  );
}

test('arrows and Enter pick, Escape closes', () => {
  picked = [];
  render(<Field found={['Alder', 'Birch']} fresh />);
  const field = screen.getByRole('combobox', { name: 'Find' });
  fireEvent.focus(field);
  fireEvent.keyDown(field, { key: 'ArrowDown' });
  expect(screen.getByRole('option', { name: 'Birch' }).getAttribute('aria-selected')).toBe('true');
  fireEvent.keyDown(field, { key: 'Escape' });
  expect(screen.queryByRole('option')).toBeNull();
  fireEvent.focus(field);
  fireEvent.keyDown(field, { key: 'Enter' });
  expect(picked).toEqual(['Birch']);
});

test('Enter pressed before the answer picks from the answer, never from what was found before', () => {
  picked = [];
  const { rerender } = render(<Field found={['Old']} fresh={false} />);
  const field = screen.getByRole('combobox', { name: 'Find' });
  fireEvent.focus(field);
  fireEvent.change(field, { target: { value: 'new' } });
  fireEvent.keyDown(field, { key: 'Enter' });
  expect(picked).toEqual([]);
  rerender(<Field found={['New']} fresh />);
  expect(picked).toEqual(['New']);
});

test('typed on after an early Enter, nothing is picked', () => {
  picked = [];
  const { rerender } = render(<Field found={['Old']} fresh={false} />);
  const field = screen.getByRole('combobox', { name: 'Find' });
  fireEvent.focus(field);
  fireEvent.change(field, { target: { value: 'new' } });
  fireEvent.keyDown(field, { key: 'Enter' });
  fireEvent.change(field, { target: { value: 'newer' } });
  rerender(<Field found={['Newer']} fresh />);
  expect(picked).toEqual([]);
  fireEvent.keyDown(field, { key: 'Enter' });
  expect(picked).toEqual(['Newer']);
});

test('whoever waits for it is told, also where the field goes with what was picked', () => {
  const told: boolean[] = [];
  const tell = (waiting: boolean) => told.push(waiting);
  function Chooser({ fresh }: { fresh: boolean }) {
    const [chosen, choose] = useState('');
    if (chosen) return <p>{chosen}</p>;
    return (
      <Finder
        label="Find"
        placeholder=""
        listLabel="Found"
        text="new"
        onText={() => undefined}
        found={['New']}
        fresh={fresh}
        keyOf={(x) => x}
        onPick={choose}
        onWaiting={tell}
      >
        {(x) => x}
      </Finder>
    );
  }
  const { rerender } = render(<Chooser fresh={false} />);
  fireEvent.keyDown(screen.getByRole('combobox', { name: 'Find' }), { key: 'Enter' });
  expect(told).toEqual([true]);
  rerender(<Chooser fresh />);
  expect(screen.getByText('New')).toBeTruthy();
  expect(told).toEqual([true, false]);
});
