/** The paper while places to sign are put on it: what is in hand, what a press puts, for whom. */
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import type { HandSpot } from '../../api/client';
import { sayProblem } from '../../primitives/notices';
import type { Page } from '../assembly/pages';
import type { Rect } from '../forms/placing';
import { useWorkspace } from '../workspace/workspace';
import { keyOf, NONE, plain, together, useSaving, type Held } from './keeping-spots';
import * as putting from './putting-spots';
import { DATED, nextOf, type Dated, type What } from './spots';

const KEPT = 'quill-spots-dated';
const USUALLY: Dated = { signature: true, initials: false };

/** Whether signatures and initials get their date beside them: kept, as everybody has a way of their own. */
function useDated() {
  const [dated, set] = useState((): Dated => {
    const kept = localStorage.getItem(KEPT)?.split(' ');
    return kept ? { signature: kept.includes('signature'), initials: kept.includes('initials') } : USUALLY;
  });
  const setDated = (wish: Dated) => {
    localStorage.setItem(KEPT, DATED.filter((what) => wish[what]).join(' '));
    set(wish);
  };
  return [dated, setDated] as const;
}

/** Whoever signs a place, as it is told: by name, or by role while nobody is named. */
export interface Signing {
  name: string;
  initials: string;
}

/** Who could sign a paper, and what was put on it before. */
function useSigners(document: Page['document'] | undefined, on: boolean) {
  const { held, calls, outbox } = useWorkspace();
  const named = Object.values(held.parties).flatMap((all) => all.map((p) => `${p.id} ${p.name}`));
  const { data } = useQuery({
    queryKey: ['spots', outbox.name, document?.id, named.join(), document?.spots.length === 0],
    queryFn: () => calls.spotsFor(document!.id),
    enabled: on && document !== undefined,
    placeholderData: (before) => before && { ...before, remembered: null },
  });
  const people = data?.people ?? [];
  const signerOf = (key: string): Signing => {
    const found = people.find((p) => p.key === key);
    return found ? { name: found.name || found.role, initials: found.initials } : { name: key, initials: '' };
  };
  return { people, signerOf, remembered: data?.remembered ?? null };
}

export function useSpots(pages: Page[], middle: number, begun: boolean, left: () => void) {
  const { held, calls, take } = useWorkspace();
  const [on, setOn] = useState(begun);
  const [what, arm] = useState<What | null>(null);
  const [wanted, setWho] = useState('');
  const [inHand, choose] = useState<{ document: string; id: string } | null>(null);
  const [dated, setDated] = useDated();
  const { unsaved, put, flush, state } = useSaving();
  const spots = together(held.documents, on ? unsaved : NONE);
  const chosen = spots.find((s) => s.document === inHand?.document && s.id === inHand.id) ?? null;
  const document = (chosen && pages.find((p) => p.document.id === chosen.document)?.document) ?? pages[middle]?.document;
  const { people, signerOf, remembered } = useSigners(document, on);
  const nameOf = (key: string) => signerOf(key).name;
  const who = people.some((p) => p.key === wanted) ? wanted : (people[0]?.key ?? '');
  const keep = (of: string, made: HandSpot[]) =>
    put((all) => ({ ...all, ...Object.fromEntries(made.map((spot) => [keyOf(of, spot.id), { document: of, spot }])) }));
  const at: putting.AtHand = { pages, spots, people, nameOf, what, who, dated, keep, choose, arm, setWho };

  const remove = async (gone: Held[]) => {
    const first = gone[0];
    if (!first) return;
    await flush(); // what was just put is known there before it is taken off
    const names = new Set(gone.map((s) => keyOf(s.document, s.id)));
    put((all) => Object.fromEntries(Object.entries(all).filter(([key]) => !names.has(key))));
    choose(null);
    try {
      take(await calls.spots(crypto.randomUUID(), first.document, { op: 'remove', ids: gone.map((s) => s.id) }));
    } catch (error) {
      sayProblem(error as Error);
    }
  };
  const leave = () => {
    void flush();
    setOn(false);
    arm(null);
    choose(null);
    left();
  };
  return {
    ...{
      on,
      leave,
      what,
      who,
      setWho,
      people,
      nameOf,
      signerOf,
      remembered,
      dated,
      setDated,
      spots,
      chosen,
      choose,
      document,
      state,
    },
    here: pages[middle],
    turn: () => (on ? leave() : setOn(true)),
    arm: (kind: What | null) => arm((before) => (before === kind ? null : kind)),
    place: (spot: Held, rect: Rect) => putting.place(at, spot, rect),
    change: (spot: Held, said: Partial<HandSpot>) => putting.change(at, spot, said),
    add: (page: Page, rect: Rect) => putting.add(at, page, rect),
    press: (page: Page, point: readonly [number, number]) => putting.press(at, page, point),
    nudge: (spot: Held, dx: number, dy: number, sizes: boolean) => putting.nudge(at, spot, dx, dy, sizes),
    onPages: (spot: Held, numbers: number[]) => putting.onPages(at, spot, numbers),
    forNext: (spot: Held) => putting.forNext(at, spot),
    next: (spot: Held) => nextOf(spot.who, people),
    remove,
    go: (by: number) => {
      const next = putting.beside(at, inHand, by);
      if (next) choose({ document: next.document, id: next.id });
      return next;
    },
    putRemembered: (of: HandSpot[]) => document && keep(document.id, of.map(plain)),
    tryAgain: () => void flush(),
  };
}

export type Spots = ReturnType<typeof useSpots>;
