import { applyEdits, type Draft, type Edit, replaces, withEdit } from '@chronicon/core/contract/edits';
import { ApiError, againAfter, isPassing } from '../../api/call.ts';
import { type Overwritten, OwnTexts } from './ownTexts.ts';

/** Milliseconds of quiet before edits are saved. */
const PAUSE = 700;
/** Edits of one choice within this time are one step of undo, in milliseconds. */
const ONE_STEP = 1_000;
/** Edits that are saved together, as the server takes them. */
const MOST = 200;

/** What the server says of edits that it has made. */
export interface Saved {
  version: number;
  updatedAt: string;
  /** The report as it is now, where somebody else had changed it. */
  now: Draft | null;
}

/**
 * `saved`: the server has all of it; `waiting`: soon; `broken`: the line or the server is away, and it goes on trying;
 * `refused`: the server does not take it as it is, and the next edit tries again.
 */
export type SaveState = 'saved' | 'waiting' | 'broken' | 'refused';

export interface Editing {
  draft: Draft;
  version: number;
  state: SaveState;
  /** What the server says of the edits that it does not take. */
  error: ApiError | null;
  /** Edits of one's own that came to nothing, since others had removed what they change. */
  lost: number;
  /** Words of one's own in whose place others' stand. */
  overwritten: readonly Overwritten[];
  mayUndo: boolean;
  mayRedo: boolean;
}

interface Step {
  /** What takes it back. */
  undo: Edit[];
  /** The edit it came from, and when: one more of the same choice joins it. */
  of: Edit | null;
  at: number;
}

interface Tools {
  save(edits: Edit[], version: number): Promise<Saved>;
  /** The report as it is stored now. */
  load(): Promise<Draft & { version: number }>;
  /** Monotonic milliseconds. */
  now(): number;
  later(work: () => void, ms: number): () => void;
}

/**
 * A report while it is edited: shown at once as it will be, saved soon after by small edits, one save at a time. Edits of
 * others come in beneath one's own; undo takes back one's own alone. Nothing that was typed is lost by a broken line.
 */
export class EditStore {
  /** As the server has it. */
  private base: Draft;
  private version: number;
  private sent: Edit[] = [];
  private queue: Edit[] = [];
  private past: Step[] = [];
  private future: Step[] = [];
  private lost = 0;
  private readonly own = new OwnTexts();
  private overwritten: readonly Overwritten[] = [];
  private state: SaveState = 'saved';
  private error: ApiError | null = null;
  private tries = 0;
  private stopTimer: (() => void) | null = null;
  private saving: Promise<void> | null = null;
  private readonly listeners = new Set<() => void>();
  private seen: Editing;

  constructor(
    report: Draft & { version: number },
    private readonly tools: Tools,
  ) {
    this.base = { title: report.title, document: report.document };
    this.version = report.version;
    this.seen = this.look();
  }

  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  readonly snapshot = (): Editing => this.seen;

  private draft(): Draft {
    return applyEdits(this.base, [...this.sent, ...this.queue]).draft;
  }

  private look(): Editing {
    return {
      draft: this.draft(),
      version: this.version,
      state: this.state,
      error: this.error,
      lost: this.lost,
      overwritten: this.overwritten,
      mayUndo: this.past.length > 0,
      mayRedo: this.future.length > 0,
    };
  }

  private tell(): void {
    this.seen = this.look();
    for (const listener of this.listeners) listener();
  }

  /** Does edits, as one step. */
  edit(...edits: Edit[]): void {
    const { undo } = applyEdits(this.draft(), edits);
    if (undo.length === 0) return;
    const at = this.tools.now();
    const [only] = edits.length === 1 ? edits : [];
    const last = this.past.at(-1);
    const joins = only && last?.of && replaces(last.of, only) && at - last.at < ONE_STEP;
    if (joins) this.past = [...this.past.slice(0, -1), { ...last, at }];
    else this.past = [...this.past, { undo, of: only ?? null, at }];
    this.future = [];
    this.enqueue(edits);
  }

  undo(): void {
    const step = this.past.at(-1);
    if (!step) return;
    const { undo } = applyEdits(this.draft(), step.undo);
    this.past = this.past.slice(0, -1);
    this.future = [...this.future, { undo, of: null, at: 0 }];
    this.enqueue(step.undo);
  }

  redo(): void {
    const step = this.future.at(-1);
    if (!step) return;
    const { undo } = applyEdits(this.draft(), step.undo);
    this.future = this.future.slice(0, -1);
    this.past = [...this.past, { undo, of: null, at: 0 }];
    this.enqueue(step.undo);
  }

  /** What somebody else has made of the report comes in beneath one's own; older than what is known here says nothing. */
  meet(now: Draft, version: number): void {
    if (this.saving || version <= this.version) return;
    this.take(now, version);
    this.tell();
  }

  /** Words that were overwritten are done with: put back, or let go. */
  settle(words: Overwritten): void {
    this.overwritten = this.overwritten.filter((o) => o !== words);
    this.tell();
  }

  private take(now: Draft, version: number): void {
    this.base = now;
    this.version = version;
    this.overwritten = [...this.overwritten, ...this.own.lostTo(this.draft(), this.tools.now())];
  }

  private enqueue(edits: readonly Edit[]): void {
    this.own.note(edits, this.tools.now());
    for (const edit of edits) this.queue = withEdit(this.queue, edit);
    this.lost = 0;
    this.tries = 0;
    if (this.state !== 'broken') this.state = 'waiting';
    this.schedule(PAUSE);
    this.tell();
  }

  private schedule(ms: number): void {
    this.stopTimer?.();
    this.stopTimer = this.tools.later(() => void this.flush(), ms);
  }

  /** Saves now what is not saved yet. @returns whether the server has all of it */
  async flush(): Promise<boolean> {
    this.stopTimer?.();
    this.stopTimer = null;
    while (this.saving) await this.saving;
    if (this.queue.length > 0) {
      this.saving = this.save().finally(() => {
        this.saving = null;
      });
      await this.saving;
    }
    return this.snapshot().state === 'saved';
  }

  private async save(): Promise<void> {
    this.sent = this.queue.slice(0, MOST);
    this.queue = this.queue.slice(MOST);
    const { version } = this;
    try {
      const saved = await this.tools.save(this.sent, version);
      const { sent } = this;
      this.sent = [];
      this.take(saved.now ?? applyEdits(this.base, sent).draft, saved.version);
      this.tries = 0;
      this.error = null;
      this.state = this.queue.length > 0 ? 'waiting' : 'saved';
      if (this.queue.length > 0 && this.stopTimer === null) this.schedule(PAUSE);
    } catch (error) {
      await this.failed(error);
    }
    this.tell();
  }

  private async failed(error: unknown): Promise<void> {
    // It was made there or it was not: doing it twice does no more than once.
    const unsaved = [...this.sent, ...this.queue];
    const sent = this.sent.length;
    this.queue = unsaved;
    this.sent = [];
    if (isPassing(error)) {
      this.state = 'broken';
      this.schedule(againAfter(this.tries++));
      return;
    }
    const refused = error as ApiError;
    const gone = Object.keys(refused.fields).flatMap((f) => /^edits\.(\d+)$/.exec(f)?.[1] ?? []);
    if (refused.status !== 409 || gone.length === 0) {
      this.state = 'refused';
      this.error = refused;
      return;
    }
    // Others have removed what these change: they come to nothing, and the page shows what there is.
    const lost = new Set(gone.map(Number).filter((i) => i < sent));
    this.queue = unsaved.filter((_, i) => !lost.has(i));
    this.lost = lost.size;
    try {
      const { version, ...now } = await this.tools.load();
      this.take(now, version);
      this.state = this.queue.length > 0 ? 'waiting' : 'saved';
      if (this.queue.length > 0) this.schedule(PAUSE);
    } catch (again) {
      this.state = isPassing(again) ? 'broken' : 'refused';
      this.error = again instanceof ApiError ? again : null;
      if (this.state === 'broken') this.schedule(againAfter(this.tries++));
    }
  }

  /** Tries no more. */
  stop(): void {
    this.stopTimer?.();
    this.stopTimer = null;
  }
}
