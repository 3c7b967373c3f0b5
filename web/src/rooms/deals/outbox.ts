/**
 * The outbox: every edit is kept in the browser until the server has it, sent in order, one batch at a time.
 * A batch keeps its change id over retries, so that nothing is done twice.
 */
import { client, got, Problem, type Delta, type Edit } from '../../api/client';

export type SaveState = 'saved' | 'saving' | 'offline';
/** `offer` is the one that was at hand when it was typed: it goes there, whichever is in force by then. */
export interface Batch {
  change: string;
  edits: Edit[];
  offer: number;
}
export interface Outbox {
  state: SaveState;
  /** What was typed and isn't confirmed yet, by key: shown at once in every place of the fact. */
  echo: ReadonlyMap<string, string>;
  /** Own changes of this sitting, newest last: what undo takes back. */
  done: readonly { id: string; said: string }[];
}

export interface Hooks {
  merge: (delta: Delta) => void;
  versionOf: (key: string) => number | undefined;
  offerAtHand: () => number;
  refused: (problem: Problem, batch: Batch) => void;
  /** The session has ended: what waits is sent after signing in again. */
  signedOut: () => void;
}

const RETRY_MS = 3000;

export class DealOutbox {
  private queue: Batch[];
  private view: Outbox;
  private sending = false;
  private listeners = new Set<() => void>();
  private typing = new Map<string, string>();

  constructor(
    readonly deal: string,
    private user: string,
    private hooks: Hooks,
    readonly offer?: number,
    private store: Pick<Storage, 'getItem' | 'setItem' | 'removeItem'> = localStorage,
  ) {
    this.queue = JSON.parse(this.store.getItem(this.name) ?? '[]') as Batch[];
    this.view = { state: this.queue.length ? 'saving' : 'saved', echo: new Map(), done: [] };
    this.refresh();
    if (this.queue.length) void this.send();
  }

  private get name() {
    return `quill-outbox-${this.user}-${this.deal}${this.offer ? `-${this.offer}` : ''}`; // never sent in another user's name
  }

  subscribe = (listener: () => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  look = (): Outbox => this.view;

  /** What is being typed, before it is an edit. */
  type(key: string, text: string | null): void {
    if (text === null) this.typing.delete(key);
    else this.typing.set(key, text);
    this.refresh();
  }

  /** Queue edits as one undoable change. */
  edit(edits: Edit[]): void {
    const based = edits.map((e) => ({ ...e, based_on: e.based_on ?? this.hooks.versionOf(e.key) ?? null }));
    this.queue.push({ change: crypto.randomUUID(), edits: based, offer: this.hooks.offerAtHand() });
    for (const e of edits) this.typing.delete(e.key);
    this.keep();
    this.refresh(this.view.state === 'offline' ? 'offline' : 'saving');
    void this.send();
  }

  /** Send now what waits. */
  async send(): Promise<void> {
    if (this.sending) return;
    this.sending = true;
    try {
      while (this.queue[0]) {
        const batch = this.queue[0];
        try {
          const body = { change: batch.change, edits: batch.edits };
          const params = { path: { deal: this.deal }, query: { offer: batch.offer } };
          const delta = await got(client.POST('/api/deals/{deal}/changes', { params, body }));
          this.settle(batch);
          this.view = { ...this.view, done: [...this.view.done, { id: batch.change, said: delta.said }] };
          this.hooks.merge(delta);
          this.rebase(batch, delta);
        } catch (error) {
          const problem = error instanceof Problem ? error : new Problem(String(error), '', 0);
          if (problem.status === 401) this.hooks.signedOut();
          if (problem.status === 0 || problem.status >= 500 || problem.status === 409 || problem.status === 401) {
            this.refresh('offline');
            setTimeout(() => void this.send(), RETRY_MS);
            return;
          }
          this.settle(batch);
          this.hooks.refused(problem, batch);
        }
        this.refresh(this.queue.length ? 'saving' : 'saved');
      }
    } finally {
      this.sending = false;
    }
  }

  /** An own change that was made past the outbox (bring in, template, package), so that undo knows it. */
  remember(id: string, said: string): void {
    this.view = { ...this.view, done: [...this.view.done, { id, said }] };
    this.refresh();
  }

  /** Forget an own change that was undone. */
  forget(id: string): void {
    this.view = { ...this.view, done: this.view.done.filter((d) => d.id !== id) };
    this.refresh();
  }

  private settle(batch: Batch): void {
    this.queue = this.queue.filter((b) => b !== batch);
    this.keep();
  }

  /** Later edits of the same keys were made knowing this one: they are based on what it became. */
  private rebase(batch: Batch, delta: Delta): void {
    const own = new Set(batch.edits.map((e) => e.key));
    const versions = new Map<string, number>([
      ...delta.blanks.map((b) => [b.only_here ? b.own_key : b.key, b.version] as const),
      ...delta.facts.map((f) => [f.key, f.version] as const),
    ]);
    for (const waiting of this.queue)
      for (const e of waiting.edits) if (own.has(e.key)) e.based_on = versions.get(e.key) ?? e.based_on;
    this.keep();
  }

  private keep(): void {
    if (this.queue.length) this.store.setItem(this.name, JSON.stringify(this.queue));
    else this.store.removeItem(this.name);
  }

  private refresh(state: SaveState = this.view.state): void {
    const echo = new Map<string, string>();
    for (const batch of this.queue) for (const e of batch.edits) if (e.op === 'type') echo.set(e.key, e.text ?? '');
    for (const [key, text] of this.typing) echo.set(key, text);
    this.view = { ...this.view, echo, state };
    this.listeners.forEach((l) => l());
  }
}
