/**
 * The outbox: every edit is kept in the browser until the server has it, sent in order, one batch at a time.
 *
 * A batch keeps its change id over retries, so that nothing is done twice. What is being typed is kept too, and becomes an
 * edit before focus, page or screen can leave it. Whether trying again can help, the server says: what it can't be told
 * by trying is set apart with what was typed, and what waits behind it goes on.
 */
import { Problem, type Delta, type Edit, type WireDelta } from '../../api/client';
import { browserShelf, type Shelf } from './shelf';

export type SaveState = 'saved' | 'saving' | 'offline';
/** `offer` is the one that was at hand when it was typed: it goes there, whichever is in force by then. */
export interface Batch {
  change: string;
  edits: Edit[];
  offer: number;
  /** When it was queued, for the order after a reload. */
  at: number;
}
/** A batch that was not saved, and why; `again` where trying once more may help. */
export interface Stuck extends Batch {
  message: string;
  mend: string;
  again: boolean;
}
export interface Outbox {
  state: SaveState;
  /** What was typed and isn't confirmed yet, by key: shown at once in every place of the fact. */
  echo: ReadonlyMap<string, string>;
  /** What could not be saved and waits for its author. */
  stuck: readonly Stuck[];
}

export interface Hooks {
  /** Tell the server; `keepalive` so that a window that closes doesn't take it along. */
  post: (batch: Batch, keepalive: boolean) => Promise<WireDelta>;
  /** Put together and take in what the server answered; nothing where that can't be done now. */
  merge: (answer: WireDelta) => Promise<Delta | null>;
  versionOf: (key: string) => number | undefined;
  offerAtHand: () => number;
  /** Something was set apart: the screen shows what the server has. */
  refused: (stuck: Stuck) => void;
  /** The session has ended: what waits is sent after signing in again. */
  signedOut: () => void;
}

/** Browsers keep requests of up to 64 KiB alive, all of a page's together. */
const MOST_KEPT_ALIVE = 30_000;
const RETRY_MS = 3000;
const MOST_TRIES = 6;
/** Of an error that the server says may pass: with growing pauses some two minutes, a restart takes one. */
const LONGEST_PAUSE_MS = 30_000;
/** What another window left behind while typing: older than any pause before saving, so it is nobody's any more. */
const LEFT_BEHIND_MS = 15_000;
const WINDOW = crypto.randomUUID();

/** A wording whose facts aren't read yet: a line for each of them. */
const unread = (wording: string) => wording.replace(/\{[^{}]*\}/g, '______');

export class EditOutbox {
  /** Under what it keeps in this browser: whose it is, and of what. */
  readonly name: string;
  private queue: Batch[] = [];
  private stuck: Stuck[] = [];
  private view: Outbox;
  private sending = false;
  private tries = 0;
  private pause: ReturnType<typeof setTimeout> | undefined;
  private listeners = new Set<() => void>();
  private typing = new Map<string, Edit>();
  /** The versions that whoever types knew, by key: what others change meanwhile is not seen behind what is typed. */
  private known = new Map<string, number>();

  /** `whose` names the user and what is edited: never sent in another's name, nor anywhere else. */
  constructor(
    whose: string,
    private hooks: Hooks,
    private shelf: Shelf = browserShelf,
  ) {
    this.name = `quill-outbox-${whose}-`;
    this.load();
    this.view = { state: this.queue.length ? 'saving' : 'saved', echo: new Map(), stuck: [] };
    this.refresh();
    if (this.queue.length) void this.send();
  }

  private load(): void {
    for (const [key, text] of this.shelf.all(this.name)) {
      const kept = parsed(text);
      if (!kept) this.shelf.drop(key);
      else if (key.startsWith(`${this.name}typing-`)) this.adopt(key, kept);
      else if ('message' in kept) this.stuck.push(kept as Stuck);
      else this.queue.push(kept);
    }
    this.queue.sort((a, b) => a.at - b.at);
  }

  /** What a window that is gone was typing when it went. */
  private adopt(key: string, kept: Batch): void {
    if (Date.now() - kept.at < LEFT_BEHIND_MS && key !== `${this.name}typing-${WINDOW}`) return;
    this.shelf.drop(key);
    if (kept.edits.length) this.keep(kept);
    if (kept.edits.length) this.queue.push(kept);
  }

  subscribe = (listener: () => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  look = (): Outbox => this.view;

  /** What is being typed under a key, as the edit that it will be; null when nothing is any more. */
  type(key: string, edit: Edit | null): void {
    if (edit === null && !this.typing.has(key)) return;
    if (edit === null) this.typing.delete(key);
    else {
      const based = this.based(edit);
      if (based.based_on !== null) this.known.set(key, based.based_on);
      this.typing.set(key, based);
    }
    this.keepTyping();
    this.refresh();
  }

  /** The field of a key is left: what stands there is seen again. */
  leave(key: string): void {
    this.known.delete(key);
  }

  private based(edit: Edit) {
    return { ...edit, based_on: edit.based_on ?? this.known.get(edit.key) ?? this.hooks.versionOf(edit.key) ?? null };
  }

  /** Queue what is being typed (all of it, or under one key): before anything can leave it. */
  flush(key?: string): void {
    const edits = key === undefined ? [...this.typing.values()] : [this.typing.get(key)].filter((e) => e !== undefined);
    if (edits.length) this.edit(edits);
  }

  /** Queue edits as one undoable change. */
  edit(edits: Edit[]): void {
    const batch = {
      change: crypto.randomUUID(),
      edits: edits.map((e) => this.based(e)),
      offer: this.hooks.offerAtHand(),
      at: Date.now(),
    };
    this.queue.push(batch);
    this.keep(batch);
    for (const e of edits) this.typing.delete(e.key);
    this.keepTyping();
    this.refresh(this.view.state === 'offline' ? 'offline' : 'saving');
    void this.send();
  }

  /** Send now what waits, also in the pause before a next try. */
  async send(): Promise<void> {
    if (this.sending) return;
    this.sending = true;
    try {
      while (this.queue[0]) {
        if (!(await this.sendOne(this.queue[0]))) return;
        this.tries = 0;
        this.endPause();
        this.refresh(this.queue.length ? 'saving' : 'saved');
      }
    } finally {
      this.sending = false;
    }
  }

  /** Whether the next one may go: the batch was saved, or set apart. */
  private async sendOne(batch: Batch): Promise<boolean> {
    try {
      const answer = await this.hooks.post(batch, JSON.stringify(batch.edits).length < MOST_KEPT_ALIVE);
      this.settle(batch);
      const delta = await this.hooks.merge(answer);
      if (delta) this.rebase(batch, delta);
      else for (const e of batch.edits) this.leave(e.key); // what it became is asked for again
      return true;
    } catch (error) {
      return this.failed(batch, error instanceof Problem ? error : new Problem(String(error), '', 0));
    }
  }

  private failed(batch: Batch, problem: Problem): boolean {
    if (problem.status === 0 || problem.status === 401) {
      if (problem.status === 401) this.hooks.signedOut();
      this.refresh('offline');
      this.later(RETRY_MS);
      return false;
    }
    const mayPass = problem.again || problem.status >= 500;
    // Whoever goes on typing in a pause sends each time: only what is sent after its pause is one of the tries. Where
    // nobody is answered (a database that is down, a flood), what was typed is not the cause, and waits as long as it takes.
    const early = this.pause !== undefined;
    const forAll = problem.status === 503 || problem.status === 429;
    if (mayPass && (early || ++this.tries < MOST_TRIES || forAll)) {
      this.refresh('offline');
      if (early) return false;
      this.later(Math.max(problem.wait * 1000, Math.min(RETRY_MS * 2 ** (this.tries - 1), LONGEST_PAUSE_MS)));
      return false;
    }
    this.setApart(batch, problem, mayPass);
    return true;
  }

  private later(ms: number): void {
    this.endPause();
    this.pause = setTimeout(() => {
      this.endPause();
      void this.send();
    }, ms);
  }

  private endPause(): void {
    clearTimeout(this.pause);
    this.pause = undefined;
  }

  private setApart(batch: Batch, problem: Problem, again: boolean): void {
    const stuck = { ...batch, message: problem.message, mend: problem.mend, again };
    this.queue = this.queue.filter((b) => b !== batch);
    this.stuck = [...this.stuck, stuck];
    this.keep(stuck);
    this.hooks.refused(stuck);
  }

  /** Try once more what was set apart. */
  tryAgain(change: string): void {
    const found = this.stuck.find((s) => s.change === change);
    if (!found) return;
    const batch: Batch = { change: found.change, edits: found.edits, offer: found.offer, at: found.at };
    this.stuck = this.stuck.filter((s) => s !== found);
    this.queue.push(batch);
    this.keep(batch);
    this.tries = 0;
    this.refresh('saving');
    void this.send();
  }

  /** Forget what was set apart. */
  letGo(change: string): void {
    this.stuck = this.stuck.filter((s) => s.change !== change);
    this.shelf.drop(this.name + change);
    this.refresh();
  }

  private settle(batch: Batch): void {
    this.queue = this.queue.filter((b) => b !== batch);
    this.shelf.drop(this.name + batch.change);
  }

  /** Later edits of the same keys were made knowing this one: they are based on what it became, but where somebody else had
   * been faster. */
  private rebase(batch: Batch, delta: Delta): void {
    const now = [...delta.blanks.map((b) => ({ ...b, key: b.only_here ? b.own_key : b.key })), ...delta.facts];
    const own = new Set(batch.edits.map((e) => e.key));
    const moved = now.filter((n) => own.has(n.key) && !n.clashes.some((c) => c.mine));
    const versions = new Map(moved.map((n) => [n.key, n.version]));
    const based = (e: Edit) => ({ ...e, based_on: versions.get(e.key) ?? e.based_on });
    for (const waiting of this.queue) {
      waiting.edits = waiting.edits.map(based);
      this.keep(waiting);
    }
    for (const [key, edit] of this.typing) this.typing.set(key, based(edit));
    for (const key of this.known.keys()) if (versions.has(key)) this.known.set(key, versions.get(key)!);
  }

  private keep(batch: Batch): void {
    this.shelf.put(this.name + batch.change, JSON.stringify(batch));
  }

  private keepTyping(): void {
    const key = `${this.name}typing-${WINDOW}`;
    if (this.typing.size === 0) return this.shelf.drop(key);
    const edits = [...this.typing.values()];
    this.shelf.put(key, JSON.stringify({ change: crypto.randomUUID(), edits, offer: this.hooks.offerAtHand(), at: Date.now() }));
  }

  private refresh(state: SaveState = this.view.state): void {
    const echo = new Map<string, string>();
    for (const batch of this.queue) {
      for (const e of batch.edits) {
        if (e.op === 'type') echo.set(e.key, e.text ?? '');
        if (e.op === 'insert') echo.set(e.key, [e.before, unread(e.text ?? ''), e.behind].filter(Boolean).join(' '));
      }
    }
    for (const [key, edit] of this.typing) echo.set(key, edit.text ?? '');
    // Saved is said only when nothing that was typed waits anywhere.
    const unsent = this.queue.length > 0 || this.typing.size > 0;
    const now = unsent && state === 'saved' ? 'saving' : !unsent && state === 'saving' ? 'saved' : state;
    this.view = { echo, state: now, stuck: this.stuck };
    this.listeners.forEach((l) => l());
  }
}

function parsed(text: string): Batch | null {
  try {
    const kept = JSON.parse(text) as Batch;
    return Array.isArray(kept.edits) && typeof kept.change === 'string' ? kept : null;
  } catch {
    return null;
  }
}
