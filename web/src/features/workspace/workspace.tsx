/**
 * What is at hand: answers under keys, the papers that show them, and what can be done with both. Facts, lens, paper, map and
 * package work on a hand and don't ask what it is; a deal is one.
 */
import type { LinkProps } from '@tanstack/react-router';
import { createContext, useContext, useSyncExternalStore } from 'react';
import type {
  Blank,
  Contact,
  ContinuationPage,
  Deal,
  TaskOp,
  EarlierAnswers,
  Edit,
  Fact,
  HandOp,
  Holiday,
  Lens,
  PackageOp,
  SpotsFor,
  SpotsOp,
  WireDelta,
} from '../../api/client';
import type { EditOutbox, Outbox } from './outbox';

/** What is kept: a deal's own things (its clients, its offers) are not among it. */
export type Held = Pick<Deal, 'catalog' | 'documents' | 'blanks' | 'facts' | 'parties' | 'suggested' | 'findings' | 'seen'> & {
  head: Pick<Deal['head'], 'side' | 'seq' | 'offer' | 'open' | 'undo' | 'redo' | 'client_group'>;
};

/** The screens that every hand has. */
export type Place = 'facts' | 'package' | 'write' | 'tasks';

/** What the server is asked to do with what is at hand; each names the change that it is. */
export interface Calls {
  pack: (change: string, op: PackageOp) => Promise<WireDelta>;
  applyTemplate: (change: string, template: string) => Promise<WireDelta>;
  fillFrom: (change: string, from: { contact: string; group: string; party: string }) => Promise<WireDelta>;
  changeTask: (change: string, op: TaskOp) => Promise<WireDelta>;
  keepAsContact: (key: string, of: { group: string; position: number | null }) => Promise<Pick<Contact, 'id' | 'name'>>;
  /** What isn't at hand of one fact: its history, and why a value was worked out so. */
  lens: (key: string) => Promise<Lens>;
  /** What the same agent answered to the same questions in other deals, as far as it may be offered. */
  earlier: () => Promise<EarlierAnswers[]>;
  /** The weekdays of a year on which no business is done. */
  holidays: (year: number) => Promise<Holiday[]>;
  /** Words struck out of a document's pages or written in by hand, and such a change taken out: of deals alone. */
  byHand: (change: string, document: string, op: HandOp) => Promise<WireDelta>;
  /** Places put on a document's pages for those who sign it, or taken out: of deals alone. */
  spots: (change: string, document: string, op: SpotsOp) => Promise<WireDelta>;
  /** Who could sign a document, and the places that were put on the same paper before. */
  spotsFor: (document: string) => Promise<SpotsFor>;
  /** The pages behind the forms' own, where a document has some. */
  continuation: () => Promise<ContinuationPage[]>;
}

export interface Workspace {
  id: string;
  held: Held;
  facts: ReadonlyMap<string, Fact>;
  outbox: EditOutbox;
  edit: (...edits: Edit[]) => void;
  undo: (change: string) => Promise<void>;
  /** Take the own last step back, or do it again; a second press waits for the first and takes the one before. */
  step: (which: 'undo' | 'redo') => void;
  /** Take in what another call (bring in, template, package) changed. */
  take: (answer: WireDelta, said?: string) => void;
  calls: Calls;
  /** The address of one of its screens, for a link or to go there. */
  at: (place: Place, within?: { search?: Record<string, unknown>; hash?: string }) => LinkProps;
  /** What is typed here is: a deal's own answer, or a template's standing one. */
  source: 'typed' | 'template';
  /** Whether people are named here, and what is brought in from outside. */
  isDeal: boolean;
  /** Whether one may lock answers here. */
  mayLock: boolean;
  /** Who or what will answer a blank in a deal; '' where that is known already. */
  answeredBy: (blank: Blank) => string;
  /** Where one document is downloaded from. */
  pdf: (document: string) => string;
}

export const WorkspaceContext = createContext<Workspace | null>(null);

export function useWorkspace(): Workspace {
  const hand = useContext(WorkspaceContext);
  if (!hand) throw new Error('nothing at hand');
  return hand;
}

export function useOutbox(): Outbox {
  const { outbox } = useWorkspace();
  return useSyncExternalStore(outbox.subscribe, outbox.look);
}

/** The unconfirmed text of one key; re-renders only when that key's text changes. */
export function useEcho(key: string): string | undefined {
  const { outbox } = useWorkspace();
  return useSyncExternalStore(outbox.subscribe, () => outbox.look().echo.get(key));
}
