/** Placing blanks on a paper: the one in hand, and everything that can be done with one. */
import { useCallback, useMemo, useRef, useState } from 'react';
import type { PaperInWork, Placed } from '../../api/client';
import { notify } from '../../primitives/notices';
import { some } from '../../primitives/format';
import { collide, freeId, moved, placeForCopy, type Rect } from './placing';
import type { useKeeping } from './use-keeping';

const NAMED = { text: 'blank', box: 'box', sign: 'sign' };

/** A blank as it is when it was just drawn: it asks for nothing yet. */
function fresh(id: string, page: number, rect: Rect, shape: Placed['shape'], lineHeight: number): Placed {
  const lines = shape === 'text' ? Math.max(1, Math.round((rect[3] - rect[1]) / lineHeight)) : 1;
  const kinds = { text: lines > 1 ? 'long_text' : 'text', box: '', sign: '' };
  const signs = shape === 'sign' ? { role: 'buyer.1', sign: 'signature' } : { role: '', sign: '' };
  const asks = { label: '', fact: '', kind: kinds[shape], group: shape === 'box' ? id : '', value: '', who: '', required: true };
  return { id, page, rect, shape, lines, ...asks, ...signs, confirmed: true, confidence: 0, others: [] };
}

export function usePlacing(
  paper: PaperInWork,
  { placed, setPlaced }: Pick<ReturnType<typeof useKeeping>, 'placed' | 'setPlaced'>,
) {
  const [chosenId, setChosen] = useState<string | null>(placed.find((p) => !p.confirmed)?.id ?? null);
  const pages = useRef<HTMLDivElement>(null);
  const chosen = placed.find((p) => p.id === chosenId) ?? null;
  const sizes = useMemo(() => paper.sizes.map(([width = 612, height = 792]) => ({ width, height })), [paper.sizes]);
  const ids = placed.map((p) => p.id);
  const othersOn = (page: number, but: string) =>
    placed.filter((p) => p.page === page && p.id !== but).map((p) => p.rect as Rect);
  const isFree = (page: number, rect: Rect, but: string) => !othersOn(page, but).some((o) => collide(o, rect));

  const change = useCallback(
    (id: string, what: Partial<Placed>) => setPlaced((all) => all.map((p) => (p.id === id ? { ...p, ...what } : p))),
    [setPlaced],
  );
  const show = useCallback((id: string | null) => {
    setChosen(id);
    if (!id) return;
    const find = () => pages.current?.querySelector(`[data-placed="${CSS.escape(id)}"]`);
    requestAnimationFrame(() => find()?.scrollIntoView({ block: 'nearest' }));
  }, []);
  const put = (made: Placed) => {
    setPlaced((all) => [...all, made]);
    show(made.id);
  };
  const add = (page: number, rect: Rect, shape: Placed['shape']) =>
    put(fresh(freeId(NAMED[shape], ids), page, rect, shape, paper.line_height));
  const copy = (p: Placed) => {
    const size = sizes[p.page - 1];
    const rect = size && placeForCopy(p.rect as Rect, [...othersOn(p.page, p.id), p.rect as Rect], size);
    if (!rect) return notify('There is no room on this page for a copy.', { wrong: true });
    put({ ...p, id: freeId(p.id.replace(/-\d+$/, ''), ids), rect, confirmed: true });
  };
  const onEveryPage = (p: Placed) => {
    const base = p.id.replace(/@\d+$/, '');
    const wanted = sizes.map((_, n) => n + 1).filter((n) => n !== p.page && !ids.includes(`${base}@${n}`));
    const free = wanted.filter((n) => isFree(n, p.rect as Rect, ''));
    setPlaced((all) => [
      ...all.map((o) => (o.id === p.id ? { ...o, id: `${base}@${p.page}` } : o)),
      ...free.map((page) => ({ ...p, id: `${base}@${page}`, page, confirmed: true })),
    ]);
    setChosen(`${base}@${p.page}`);
    const inTheWay = wanted.length - free.length;
    if (inTheWay === 0) return notify(`Put on ${some(free.length + 1, 'page')}.`);
    notify(`Put on ${some(free.length, 'page')}; on ${some(inTheWay, 'page')} another blank is in the way.`, { wrong: true });
  };
  const remove = (p: Placed) => {
    const before = placed;
    setPlaced((all) => all.filter((o) => o.id !== p.id));
    setChosen(null);
    notify(`Removed “${p.label || p.id}”.`, { action: { label: 'Put it back', run: () => setPlaced(() => before) } });
  };
  /** Confirm one, and go on to the next that isn't. */
  const confirm = (p: Placed, what: Partial<Placed> = {}) => {
    const from = placed.findIndex((o) => o.id === p.id);
    const order = [...placed.slice(from + 1), ...placed.slice(0, Math.max(from, 0))];
    const to = order.find((o) => !o.confirmed);
    change(p.id, { ...what, confirmed: true });
    if (to) show(to.id);
  };
  const confirmAll = (some: string[]) =>
    setPlaced((all) => all.map((p) => (some.includes(p.id) ? { ...p, confirmed: true } : p)));
  const nudge = (p: Placed, dx: number, dy: number) => {
    const size = sizes[p.page - 1];
    if (!size) return;
    const rect = moved(p.rect as Rect, dx, dy, size);
    if (isFree(p.page, rect, p.id)) change(p.id, { rect });
  };
  return { pages, sizes, chosen, setChosen, show, change, add, copy, onEveryPage, remove, confirm, confirmAll, nudge };
}
