/**
 * The way through what is open, from every place of a deal alike. One rule: in reading order through the package; a blank that
 * waits for another one that is open is passed over, since answering that one fills it. Where one was on the paper is kept, so that
 * the way goes on from there, and Write comes back to it.
 */
import { useNavigate } from '@tanstack/react-router';
import { useCallback, useMemo } from 'react';
import type { Blank } from '../../api/client';
import { useScreenKeys } from '../../primitives/screen-keys';
import { useWorkspace, type Held } from './workspace';

/** The rule, as it is told. */
export const RULE = 'Blanks come in reading order. Those that fill in by themselves are skipped.';

export const idOf = (b: Pick<Blank, 'document' | 'field'>) => `${b.document}/${b.field}`;

/** Whether it asks for something: no answer yet, or one that waits for somebody. */
export const isOpen = (b: Blank) => b.state === 'open' || b.draft !== null || b.clashes.length > 0;

/** The blanks to be written in, as one reads the package. */
export function inReadingOrder({ documents, blanks }: Pick<Held, 'documents' | 'blanks'>): Blank[] {
  const order = new Map(documents.filter((d) => d.edition && !d.set_aside).map((d, n) => [d.id, n]));
  return blanks
    .filter((b) => b.shape !== 'sign' && order.has(b.document))
    .sort((a, b) => order.get(a.document)! - order.get(b.document)! || a.page - b.page);
}

/** Whether a blank is filled by itself as soon as another open one of them is answered. */
export function waitsForAnother(inOrder: Blank[]): (blank: Blank) => boolean {
  const own = new Set(inOrder.filter((b) => b.state === 'open' && b.editable).map((b) => b.key));
  return (b) => b.waits_for.some((key) => key !== b.key && own.has(key));
}

/** All others after the one that is here (before it, `back`), round to it; all where none is. */
export function othersAround<T>(all: T[], isHere: (one: T) => boolean, back = false): T[] {
  const way = back ? [...all].reverse() : all;
  const from = way.findIndex(isHere);
  return [...way.slice(from + 1), ...way.slice(0, Math.max(from, 0))];
}

/** The open blank after the one in hand (before it, `back`), round the package; nothing where none is open. */
export function openBeside(inOrder: Blank[], inHand: string | null, back = false): Blank | undefined {
  const others = othersAround(inOrder, (b) => idOf(b) === inHand, back).filter(isOpen);
  const isFilledByAnother = waitsForAnother(inOrder);
  const current = inOrder.find((b) => idOf(b) === inHand);
  return others.find((b) => !isFilledByAnother(b)) ?? others[0] ?? (current && isOpen(current) ? current : undefined);
}

/** Where one is on the paper of a hand. */
interface Way {
  /** The blank in hand, and the page that is looked at. */
  blank: string | null;
  page: string;
  /** Goes to a blank at once while the paper is on the screen. */
  jump: ((blank: Blank) => void) | null;
  /** Goes on by itself while what is open is asked in another order than one reads. */
  step: ((back: boolean) => void) | null;
}

const ways = new Map<string, Way>();
const kept = (name: string) => `quill-way-${name}`;

/** Of one hand; `name` is its outbox's, which knows the user. */
export function wayOf(name: string): Way {
  const known = ways.get(name);
  if (known) return known;
  const [blank = '', page = ''] = (sessionStorage.getItem(kept(name)) ?? '').split('\n');
  const way: Way = { blank: blank || null, page, jump: null, step: null };
  ways.set(name, way);
  return way;
}

export function keepPlace(name: string, place: Partial<Pick<Way, 'blank' | 'page'>>): void {
  const way = Object.assign(wayOf(name), place);
  try {
    sessionStorage.setItem(kept(name), `${way.blank ?? ''}\n${way.page}`);
  } catch {
    // A full or closed store: the place is known until the window is closed.
  }
}

/** How many blanks ask for something. */
export function useOpenCount(): number {
  const { documents, blanks } = useWorkspace().held;
  return useMemo(() => inReadingOrder({ documents, blanks }).filter(isOpen).length, [documents, blanks]);
}

/** The way to the next open blank and to the one before. */
export function useOpen() {
  const { held, outbox, at } = useWorkspace();
  const navigate = useNavigate();
  const { documents, blanks } = held;
  // The order is made when it is gone: several parts of a screen know the way, and each key typed moves the blanks.
  const go = useCallback(
    (back: boolean) => {
      outbox.flush(); // what is typed is on its way before the place is left
      const way = wayOf(outbox.name);
      if (way.step) return way.step(back);
      const next = openBeside(inReadingOrder({ documents, blanks }), way.blank, back);
      if (!next) return;
      if (way.jump) way.jump(next);
      else void navigate(at('write', { search: { document: next.document, field: next.field } }));
    },
    [documents, blanks, outbox, at, navigate],
  );
  const next = useCallback(() => go(false), [go]);
  const previous = useCallback(() => go(true), [go]);
  return { next, previous };
}

/** Ctrl + Enter to the next open blank and Ctrl + Shift + Enter to the one before, wherever one is; a dialog keeps its own keys. */
export function useOpenKeys(): void {
  const { next, previous } = useOpen();
  useScreenKeys((e) => {
    const inDialog = e.target instanceof Element && e.target.closest('[role$="dialog"], [role="menu"]');
    if (e.key !== 'Enter' || !(e.ctrlKey || e.metaKey) || inDialog) return;
    e.preventDefault();
    if (e.shiftKey) previous();
    else next();
  });
}
