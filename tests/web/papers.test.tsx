// @vitest-environment jsdom
/** Placing on a paper and saying what a blank asks for, as a person does it. */
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { act, cleanup, fireEvent, render, renderHook, screen } from '@testing-library/react';
import type { ReactNode } from 'react';
import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import type { CatalogFact, Choices, PaperInWork, Placed } from '../../web/src/api/client';

const sent: { body: { placed: Placed[]; based_on: number } }[] = [];
let answers: (() => Promise<unknown>)[] = [];
vi.mock('../../web/src/api/client', () => ({
  client: {
    PUT: (_path: string, given: { body: { placed: Placed[]; based_on: number } }) => (
      sent.push(given),
      answers.shift()?.() ?? Promise.resolve({ version: given.body.based_on + 1, faults: [] })
    ),
  },
  got: (answer: Promise<unknown>) => answer,
  Problem: class Problem extends Error {
    status = 0;
    wait = 0;
    again = true;
  },
}));

const { ChoicesBrought } = await import('../../web/src/api/choices');
const { PaperLens } = await import('../../web/src/features/forms/paper-lens');
const { PaperSheet } = await import('../../web/src/features/forms/paper-sheet');
const { useKeeping } = await import('../../web/src/features/forms/use-keeping');

const placed = (more: Partial<Placed> = {}): Placed => ({
  id: 'text1',
  page: 1,
  rect: [100, 700, 300, 716],
  shape: 'text',
  lines: 1,
  label: 'Purchaser',
  fact: 'buyers.names',
  kind: '',
  group: '',
  value: '',
  role: '',
  sign: '',
  who: '',
  required: true,
  confirmed: false,
  confidence: 0.96,
  others: ['buyers.1.name', 'buyers.1.email'],
  ...more,
});
const PAPER = {
  id: 'p',
  placed: [placed()],
  paper: { number: '', title: 'T', sides: ['buying'] },
  faults: [],
  removed: ['script'],
  told: null,
  pages: 2,
  version: 1,
  sizes: [[612, 792]],
} as unknown as PaperInWork;
const CHOICES = {
  sides: [{ side: 'buying' }, { side: 'listing' }],
  value_kinds: ['text', 'money'],
  signer_roles: [
    { role: 'buyer.1', label: 'buyer 1', is_party: true },
    { role: 'own_agent', label: 'own agent', is_party: false },
  ],
  sign_kinds: ['signature', 'initials'],
} as unknown as Choices;
const CATALOG: CatalogFact[] = [
  {
    key: 'buyers.names',
    label: 'Buyers, all names',
    group: 'Buyers',
    kind: 'name',
    options: [],
  },
  {
    key: 'buyers.1.name',
    label: 'Buyer 1 name',
    group: 'Buyers',
    kind: 'name',
    options: [],
  },
  {
    key: 'terms.loan_type',
    label: 'Loan',
    group: 'Terms',
    kind: 'choice',
    options: ['cash', 'FHA'],
  },
];

beforeEach(() => {
  localStorage.clear();
  sent.length = 0;
  answers = [];
  vi.useFakeTimers();
});
afterEach(() => {
  cleanup();
  vi.useRealTimers();
});

const lens = (all: Placed[], chosen: Placed | null, more: Record<string, unknown> = {}) => {
  const acts = {
    setSaid: vi.fn(),
    show: vi.fn(),
    change: vi.fn(),
    confirm: vi.fn(),
    confirmAll: vi.fn(),
    copy: vi.fn(),
    onEveryPage: vi.fn(),
    remove: vi.fn(),
  };
  render(
    <ChoicesBrought value={CHOICES}>
      <PaperLens
        paper={PAPER}
        said={PAPER.paper}
        placed={all}
        faults={[]}
        catalog={CATALOG}
        setSaid={acts.setSaid}
        placing={{ ...acts, chosen } as never}
        {...more}
      />
    </ChoicesBrought>,
  );
  return acts;
};

test('a whole group is confirmed at once, and only what is still to be confirmed', () => {
  const { confirmAll } = lens(
    [
      placed(),
      placed({ id: 'b', confirmed: true }),
      placed({ id: 'c' }),
      placed({ id: 's', shape: 'sign', role: 'buyer.1', sign: 'signature' }),
    ],
    null,
  );
  fireEvent.click(screen.getByRole('button', { name: 'Confirm 2 blanks' }));
  expect(confirmAll).toHaveBeenCalledWith(['text1', 'c']);
  expect(screen.getByRole('heading', { name: /Sign spots/ })).toBeTruthy();
});

test('what was left out for safety is said', () => {
  lens([], null);
  expect(screen.getByText('Left out for safety: script.')).toBeTruthy();
  expect(screen.getByText(/has no fields/)).toBeTruthy();
});

test('the likely others stand ready under their keys, and choosing one confirms it', () => {
  const one = placed();
  const { confirm } = lens([one], one);
  fireEvent.click(screen.getByRole('button', { name: '1 Buyer 1 name' }));
  expect(confirm).toHaveBeenCalledWith(one, {
    fact: 'buyers.1.name',
    kind: '',
    others: ['buyers.names', 'buyers.1.email'],
  });
});

test('a fact is chosen by its label; without one the blank is the form’s own', () => {
  const one = placed();
  const { change } = lens([one], one);
  const input = screen.getByLabelText('Asks for');
  fireEvent.change(input, { target: { value: 'Loan' } });
  expect(change).toHaveBeenLastCalledWith('text1', expect.objectContaining({ fact: 'terms.loan_type', confirmed: true }));
  fireEvent.change(input, { target: { value: '' } });
  expect(change).toHaveBeenLastCalledWith('text1', expect.objectContaining({ fact: '', kind: 'text' }));
});

test('a box says which value of its fact it stands for', () => {
  const box = placed({
    id: 'box',
    shape: 'box',
    fact: 'terms.loan_type',
    value: 'cash',
    others: [],
  });
  const { change } = lens([box], box);
  fireEvent.change(screen.getByLabelText('Stands for'), {
    target: { value: 'FHA' },
  });
  expect(change).toHaveBeenCalledWith('box', { value: 'FHA' });
});

const sheet = (all: Placed[], tool: 'hand' | 'text') => {
  const acts = { choose: vi.fn(), place: vi.fn(), add: vi.fn() };
  const { container } = render(
    <PaperSheet
      picture="about:blank"
      page={1}
      size={{ width: 612, height: 792 }}
      placed={all}
      faulty={new Set()}
      chosen={null}
      tool={tool}
      {...acts}
    />,
  );
  const page = container.querySelector('[data-page]') as HTMLElement;
  page.getBoundingClientRect = () => ({ left: 0, top: 0, width: 612, height: 792 }) as DOMRect;
  return { page, ...acts };
};
const drag = (on: Element, from: [number, number], to: [number, number]) => {
  fireEvent(
    on,
    new MouseEvent('pointerdown', {
      bubbles: true,
      button: 0,
      clientX: from[0],
      clientY: from[1],
    }),
  );
  fireEvent(window, new MouseEvent('pointermove', { clientX: to[0], clientY: to[1] }));
  fireEvent(window, new MouseEvent('pointerup'));
};

test('a blank is drawn where there is room, and nowhere else', () => {
  const { page, add } = sheet([placed()], 'text');
  drag(page, [100, 200], [220, 220]);
  expect(add).toHaveBeenCalledWith([100, 572, 220, 592]);
  drag(page, [110, 80], [200, 90]);
  expect(add).toHaveBeenCalledTimes(1);
});

test('a blank is moved with the pointer, snaps to its neighbours and stays off them', () => {
  const { page, place } = sheet([placed(), placed({ id: 'b', rect: [100, 600, 300, 616] })], 'hand');
  const second = page.querySelector('[data-placed="b"]') as HTMLElement;
  drag(second, [150, 180], [152, 120]);
  expect(place).toHaveBeenLastCalledWith('b', [100, 660, 300, 676]);
  drag(second, [150, 180], [150, 84]);
  expect(place).toHaveBeenLastCalledWith('b', [100, 600, 300, 616]);
});

const wrapper = ({ children }: { children: ReactNode }) => (
  <QueryClientProvider client={new QueryClient()}>{children}</QueryClientProvider>
);

test('changes are kept together a moment later, each based on the answer before', async () => {
  const { result } = renderHook(() => useKeeping(PAPER), { wrapper });
  act(() => result.current.setPlaced((all) => all.map((p) => ({ ...p, confirmed: true }))));
  act(() => result.current.setSaid({ number: '951' }));
  expect(result.current.state).toBe('saving');
  await act(() => vi.advanceTimersByTimeAsync(800));
  expect(sent).toHaveLength(1);
  expect(result.current.state).toBe('saved');
  act(() => result.current.setSaid({ title: 'New' }));
  await act(() => vi.advanceTimersByTimeAsync(800));
  expect(sent.map((s) => s.body.based_on)).toEqual([1, 2]);
});

test('what was placed and not saved is there again after a reload, and saved then', async () => {
  const { Problem } = await import('../../web/src/api/client');
  answers = [() => Promise.reject(new Problem('away', '', 0))];
  const first = renderHook(() => useKeeping(PAPER), { wrapper });
  act(() => first.result.current.setPlaced((all) => [...all, placed({ id: 'x', rect: [10, 10, 60, 24] })]));
  const again = renderHook(() => useKeeping(PAPER), { wrapper });
  expect(again.result.current.placed.map((p) => p.id)).toEqual(['text1', 'x']);
  await act(() => vi.advanceTimersByTimeAsync(4000));
  expect(again.result.current.state).toBe('saved');
  const later = renderHook(() => useKeeping({ ...PAPER, version: 9 }), {
    wrapper,
  });
  expect(later.result.current.placed.map((p) => p.id)).toEqual(['text1']);
});

test('while the server is away what was placed waits, and is sent again', async () => {
  const { Problem } = await import('../../web/src/api/client');
  answers = [() => Promise.reject(new Problem('away', '', 0))];
  const { result } = renderHook(() => useKeeping(PAPER), { wrapper });
  act(() => result.current.setPlaced((all) => [...all, placed({ id: 'x', rect: [10, 10, 60, 24] })]));
  await act(() => vi.advanceTimersByTimeAsync(800));
  expect(result.current.state).toMatch(/Offline/);
  await act(() => vi.advanceTimersByTimeAsync(3100));
  expect(result.current.state).toBe('saved');
  expect(sent[1]?.body.placed.map((p) => p.id)).toEqual(['text1', 'x']);
});
