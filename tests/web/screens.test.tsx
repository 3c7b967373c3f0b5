// @vitest-environment jsdom
/** Pieces of the screens: marks, the map, blanks and facts under typing. */
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { act, cleanup, fireEvent, render, screen } from '@testing-library/react';
import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import type { Blank, Deal, Fact } from '../../web/src/api/client';

const edits: unknown[][] = [];
const flushed: string[] = [];
const echo = new Map<string, string>();
const listeners = new Set<() => void>();
const outbox = {
  type: (key: string, edit: { text?: string } | null) => {
    if (edit === null) echo.delete(key);
    else echo.set(key, edit.text ?? '');
    listeners.forEach((l) => l());
  },
  flush: (key: string) => flushed.push(key),
  leave: () => {},
};
let deal: Partial<Deal>;

vi.mock('../../web/src/features/workspace/workspace', async () => {
  const { useSyncExternalStore } = await import('react');
  const subscribe = (l: () => void) => {
    listeners.add(l);
    return () => listeners.delete(l);
  };
  return {
    useWorkspace: () => ({
      held: deal,
      id: 'd',
      outbox,
      facts: new Map((deal.facts ?? []).map((f) => [f.key, f])),
      edit: (...e: unknown[]) => edits.push(e),
    }),
    useEcho: (key: string) => useSyncExternalStore(subscribe, () => echo.get(key)),
    useOutbox: () => ({ state: 'saved', echo, done: [] }),
  };
});

const { BoxBlank, SignSpot, TextBlank } = await import('../../web/src/features/write/blank');
const { FactInput } = await import('../../web/src/features/facts/fact-input');
const { Parties } = await import('../../web/src/features/facts/parties');
const { Legend, Mark, markOf, MARKS } = await import('../../web/src/primitives/mark');
const { MapStrip, MiniPage, readTicks } = await import('../../web/src/primitives/package-map');
const { pagesOf } = await import('../../web/src/features/assembly/pages');
const { ContinuationPaper } = await import('../../web/src/features/write/continuation-page');

const blank = (more: Partial<Blank> = {}): Blank =>
  ({
    document: 'doc',
    field: 'price',
    page: 1,
    rect: [100, 700, 200, 712],
    shape: 'text',
    lines: 1,
    align: 'right',
    key: 'terms.purchase_price',
    own_key: 'doc.doc.price',
    kind: 'money',
    explained: {},
    options: [],
    value: '',
    label: 'Purchase price',
    help: '',
    state: 'filled',
    text: '412,500.00',
    marked: false,
    source: 'typed',
    only_here: false,
    overflow: false,
    role: '',
    sign: '',
    version: 7,
    size: 10,
    set: [[150, 702.6, '412,500.00']],
    waits_for: [],

    draft: null,
    clashes: [],
    findings: [],
    editable: true,
    ...more,
  }) as Blank;
const fact = (more: Partial<Fact> = {}): Fact =>
  ({
    key: 'terms.purchase_price',
    group: 'terms',
    label: 'Purchase price',
    kind: 'money',
    options: [],
    help: '',
    example: '',
    shown: '$412,500.00',
    edit: '412,500.00',
    source: 'typed',
    version: 7,
    places: 2,
    missing: [],
    differs: false,
    locked: false,
    worked_out: false,

    beside: [],
    draft: null,
    clashes: [],
    findings: [],
    ...more,
  }) as Fact;
const LETTER = { width: 612, height: 792 };
const show = (b: Blank, tells = true) =>
  render(<TextBlank blank={b} scale={1} paper={LETTER} lit={false} chosen={false} tells={tells} onHand={() => {}} />);

beforeEach(() => {
  edits.length = 0;
  flushed.length = 0;
  echo.clear();
  deal = {
    facts: [],
    catalog: {
      ones: new Map([
        ['buyers', 'Buyer'],
        ['sellers', 'Seller'],
      ]),
      contact_groups: [],
    } as unknown as Deal['catalog'],
    parties: {
      buyers: [
        {
          id: 'a',
          name: 'Amara Okafor',
          initials: 'AO',
          is_entity: false,
          findings: [],
        },
      ],
      sellers: [],
    },
    suggested: [],
  } as Partial<Deal>;
});
afterEach(cleanup);

test('every mark has a shape and an ink of its own', () => {
  const inks = Object.values(MARKS).map((m) => m.ink);
  expect(new Set(Object.values(MARKS).map((m) => JSON.stringify(m.shape))).size).toBe(inks.length);
  render(<Mark name="roll" />);
  expect(screen.getByRole('img', { name: 'from the tax roll' })).toBeTruthy();
  expect([markOf('listing'), markOf('listing', true), markOf(null), markOf('nobody')]).toEqual([
    'listing',
    'differs',
    null,
    null,
  ]);
});

test('the legend leaves out what the screen does not show', () => {
  render(<Legend without={['open']} />);
  expect(screen.queryByText('open')).toBeNull();
  expect(screen.getByText('standing answer')).toBeTruthy();
});

test('a map page draws open blanks in wax and the fact in hand in green', () => {
  const ticks = [...readTicks('0i9o'), { x: 0, y: 0.1, w: 0.1, open: false, key: 'k' }];
  const { container } = render(<MiniPage page={{ id: '1', label: '', ticks }} width={60} lit="k" />);
  const fills = [...container.querySelectorAll('rect')].slice(1).map((r) => r.getAttribute('fill'));
  expect(fills).toEqual(['var(--color-wax)', 'var(--color-green)']);
});

test('a long package stays in its row', () => {
  const pages = Array.from({ length: 60 }, (_, n) => ({
    id: String(n),
    label: '',
    ticks: [],
  }));
  const { container } = render(<MapStrip pages={pages} label="60 pages" />);
  expect(container.querySelectorAll('svg')).toHaveLength(24);
});

test('pages know their blanks, and those set aside stay away unless asked for', () => {
  const documents = [
    {
      id: 'doc',
      edition: 'e',
      pages: 2,
      number: '301',
      title: 'T',
      set_aside: false,
      sizes: [],
    },
    { id: 'b', edition: 'e', pages: 1, set_aside: true, sizes: [[792, 612]] },
    { id: 'c', edition: '', pages: 0, sizes: [] },
  ];
  const whole = {
    documents,
    blanks: [blank(), blank({ field: 'sig', shape: 'sign', state: 'sign' })],
  } as unknown as Deal;
  const pages = pagesOf(whole);
  expect(pages.map((p) => [p.id, p.blanks.length, p.ticks.length])).toEqual([
    ['doc-1', 2, 1],
    ['doc-2', 0, 0],
  ]);
  expect(pagesOf(whole, [], true).map((p) => p.size.width)).toEqual([612, 612, 792]);
  const further = [
    {
      document: documents[0]!.id,
      number: 1,
      lines: [[54, 700, 10, 'Buyer 3']],
      rules: [],
      spots: [],
    },
  ];
  const all = pagesOf(whole, further);
  expect(all.map((p) => p.label).at(-1)).toMatch(/continuation 1 of 1$/);
  expect(all.at(-1)?.ticks).toHaveLength(1);
});

test('a continuation page shows its lines where they will print', () => {
  const page = {
    document: 'doc',
    number: 1,
    lines: [[54, 692, 10, 'Further signatures']],
    rules: [[54, 600, 300]],
    spots: [],
  };
  const { container, getByLabelText } = render(
    <ContinuationPaper label="301, continuation 1 of 1" page={page} size={{ width: 612, height: 792 }} scale={2} />,
  );
  expect(getByLabelText('301, continuation 1 of 1')).toBeTruthy();
  const line = container.querySelector('span.values') as HTMLElement;
  expect([line.style.left, line.style.top]).toEqual(['108px', '180px']);
});

test('at rest a blank shows the lines as they were set', () => {
  const { container } = show(blank());
  const line = container.querySelector('span.values') as HTMLElement;
  expect(line.textContent).toBe('412,500.00');
  expect(line.style.left).toBe('50px');
});

test('typing is echoed and becomes one edit when the blank is left', () => {
  show(blank());
  const field = screen.getByLabelText('Purchase price');
  fireEvent.focus(field);
  fireEvent.change(field, { target: { value: '415k' } });
  expect(echo.get('terms.purchase_price')).toBe('415k');
  fireEvent.blur(field);
  expect(edits).toEqual([[{ op: 'type', key: 'terms.purchase_price', text: '415k' }]]);
});

test('looking into a blank and leaving it changes nothing', () => {
  show(blank());
  const field = screen.getByLabelText('Purchase price');
  fireEvent.focus(field);
  fireEvent.blur(field);
  expect(edits).toEqual([]);
});

test('what arrives from elsewhere shows in a blank that is in hand but untouched', () => {
  const { rerender } = show(blank({ text: '', set: [] }));
  const field = screen.getByLabelText('Purchase price') as HTMLInputElement;
  fireEvent.focus(field);
  rerender(<TextBlank blank={blank()} scale={1} paper={LETTER} lit={false} chosen tells onHand={() => {}} />);
  expect(field.value).toBe('412,500.00');
  expect([field.selectionStart, field.selectionEnd]).toEqual([0, 10]); // typing replaces it whole
});

test('emptying a blank clears the value; escape gives it back', () => {
  show(blank());
  const field = screen.getByLabelText('Purchase price') as HTMLInputElement;
  fireEvent.focus(field);
  fireEvent.change(field, { target: { value: 'x' } });
  fireEvent.keyDown(field, { key: 'Escape' });
  expect(field.value).toBe('412,500.00');
  fireEvent.change(field, { target: { value: '' } });
  fireEvent.blur(field);
  expect(edits).toEqual([[{ op: 'clear', key: 'terms.purchase_price', text: '' }]]);
});

test('another place of the same fact shows what is being typed', () => {
  show(blank({ field: 'total' }));
  act(() => outbox.type('terms.purchase_price', { text: '500' }));
  expect(screen.getByText('500')).toBeTruthy();
});

test('what cannot be read stays, with its sentence once a page', () => {
  const draft = {
    text: 'abc',
    message: '“abc” isn’t an amount.',
    mend: 'Type digits.',
  };
  const { rerender } = show(blank({ text: '', set: [], draft }));
  expect((screen.getByLabelText('Purchase price') as HTMLInputElement).value).toBe('abc');
  expect(screen.getByRole('alert').textContent).toBe('“abc” isn’t an amount. Type digits.');
  rerender(
    <TextBlank
      blank={blank({ text: '', set: [], draft })}
      scale={1}
      paper={LETTER}
      lit={false}
      chosen={false}
      tells={false}
      onHand={() => {}}
    />,
  );
  expect(screen.queryByRole('alert')).toBeNull();
});

test('only here edits the place and not the fact', () => {
  show(blank({ only_here: true }));
  const field = screen.getByLabelText('Purchase price');
  fireEvent.focus(field);
  fireEvent.change(field, { target: { value: '1' } });
  fireEvent.blur(field);
  expect(edits[0]![0]).toMatchObject({ key: 'doc.doc.price' });
});

test('a box is marked and cleared as one of its group', () => {
  const box = blank({
    shape: 'box',
    value: 'cash',
    label: 'Loan',
    key: 'terms.loan_type',
    kind: 'choice',
    set: [],
  });
  const { rerender } = render(<BoxBlank blank={box} scale={1} paper={LETTER} lit={false} chosen={false} onHand={() => {}} />);
  fireEvent.click(screen.getByRole('radio', { name: 'Loan: cash' }));
  rerender(<BoxBlank blank={{ ...box, marked: true }} scale={1} paper={LETTER} lit={false} chosen={false} onHand={() => {}} />);
  fireEvent.click(screen.getByRole('radio', { checked: true }));
  expect(edits.map((e) => (e[0] as { op: string; text: string }).op)).toEqual(['type', 'clear']);
});

test('a sign spot says whose it is and stays quiet for parties there are not', () => {
  const spot = blank({
    shape: 'sign',
    sign: 'signature',
    role: 'buyer 1',
    role_group: 'buyers',
    role_position: 1,
    state: 'sign',
  });
  const { container, rerender } = render(<SignSpot blank={spot} scale={1} paper={LETTER} lit={false} />);
  expect(container.textContent).toBe('signs here: Amara Okafor');
  rerender(<SignSpot blank={{ ...spot, sign: 'initials' }} scale={1} paper={LETTER} lit={false} />);
  expect(container.textContent).toBe('AO');
  rerender(<SignSpot blank={{ ...spot, role: 'buyer 2', role_position: 2 }} scale={1} paper={LETTER} lit={false} />);
  expect(container.textContent).toBe('');
});

test('a fact is saved on leaving, kept while wrong, and can be dropped', () => {
  const { rerender } = render(<FactInput fact={fact()} />);
  const field = screen.getByLabelText('Purchase price');
  fireEvent.change(field, { target: { value: '31 June' } });
  fireEvent.blur(field);
  expect(edits[0]).toEqual([{ op: 'type', key: 'terms.purchase_price', text: '31 June' }]);
  act(() => outbox.type('terms.purchase_price', null));
  rerender(
    <FactInput
      fact={fact({
        draft: {
          text: '31 June',
          message: 'June has 30 days.',
          mend: 'Check the day.',
        },
      })}
    />,
  );
  expect((field as HTMLInputElement).value).toBe('31 June');
  expect(field.getAttribute('aria-invalid')).toBe('true');
  fireEvent.click(screen.getByRole('button', { name: 'Drop it' }));
  expect(edits[1]).toEqual([{ op: 'drop', key: 'terms.purchase_price' }]);
});

test('a clash shows both values until one is chosen', () => {
  render(<FactInput fact={fact({ clashes: [{ text: '405k', by: 'Rosa', mine: false }] })} />);
  expect(screen.getByRole('alert').textContent).toContain(
    'Rosa typed “405k” while it was being changed. It says “$412,500.00” now.',
  );
  fireEvent.click(screen.getByRole('button', { name: 'Use theirs' }));
  fireEvent.click(screen.getByRole('button', { name: 'Keep “$412,500.00”' }));
  expect(edits.flat()).toEqual([
    { op: 'type', key: 'terms.purchase_price', text: '405k' },
    { op: 'keep', key: 'terms.purchase_price' },
  ]);
});

test('a clash is told to its own author in other words', () => {
  render(
    <FactInput
      fact={fact({
        clashes: [{ text: '405k', by: 'Rosa', mine: true }],
        shown: '',
      })}
    />,
  );
  expect(screen.getByRole('alert').textContent).toContain(
    'You typed “405k” while it was changed elsewhere. It says nothing now.',
  );
  expect(screen.getByRole('button', { name: 'Use mine' })).toBeTruthy();
});

test('escape drops what can’t be read, and takes back what went off since the blank was entered', () => {
  const { unmount } = show(blank({ draft: { text: 'abc', message: '', mend: '' } }));
  fireEvent.focus(screen.getByLabelText('Purchase price'));
  fireEvent.keyDown(screen.getByLabelText('Purchase price'), { key: 'Escape' });
  expect(edits.pop()).toEqual([{ op: 'drop', key: 'terms.purchase_price' }]);
  unmount();
  show(blank());
  const field = screen.getByLabelText('Purchase price');
  fireEvent.focus(field);
  fireEvent.change(field, { target: { value: '500' } });
  fireEvent.keyDown(field, { key: 'Enter' });
  fireEvent.keyDown(field, { key: 'Escape' });
  expect(edits.map((e) => (e[0] as { text: string }).text)).toEqual(['500', '412,500.00']);
});

test('a blank that goes off the screen while it is typed in has what was typed queued', () => {
  const { unmount } = show(blank());
  fireEvent.focus(screen.getByLabelText('Purchase price'));
  fireEvent.change(screen.getByLabelText('Purchase price'), {
    target: { value: '500' },
  });
  unmount();
  expect(flushed).toContain('terms.purchase_price');
});

test('a choice is one of its options, a locked fact is closed', () => {
  const { rerender } = render(
    <FactInput
      fact={fact({
        kind: 'choice',
        options: ['cash', 'FHA'],
        edit: 'cash',
        label: 'Loan',
      })}
    />,
  );
  fireEvent.change(screen.getByLabelText('Loan'), { target: { value: 'FHA' } });
  expect(edits[0]![0]).toMatchObject({ op: 'type', text: 'FHA' });
  rerender(<FactInput fact={fact({ locked: true })} />);
  expect((screen.getByLabelText('Purchase price') as HTMLInputElement).disabled).toBe(true);
});

test('recorded owners are confirmed by one action, and nobody unnamed is added', () => {
  const owner = (name: string, fields: Record<string, string>, ask = '') => ({
    group: 'sellers',
    recorded: 'VOSS LENA ET UX',
    name,
    capacity: '',
    confidence: 0.9,
    findings: ask
      ? [
          {
            rule: 'recorded owner',
            weight: 'look' as const,
            place: 'tax.owners',
            message: ask,
            mend: '',
          },
        ]
      : [],
    fields,
  });
  deal.suggested = [owner('Lena Voss', { given: 'Lena', family: 'Voss' }), owner('', {}, 'A spouse who isn’t named. Who is it?')];
  render(
    <QueryClientProvider client={new QueryClient()}>
      <Parties group="sellers" onHand={() => {}} />
    </QueryClientProvider>,
  );
  expect(screen.getByText('Unnamed')).toBeTruthy();
  expect(screen.getByText(/A spouse who isn’t named/)).toBeTruthy();
  fireEvent.click(screen.getByRole('button', { name: 'Name as seller' }));
  expect(edits[0]!.map((e) => (e as { op: string; key: string }).key)).toEqual([
    'sellers',
    'sellers.1.given',
    'sellers.1.family',
  ]);
});
