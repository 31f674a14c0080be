import type { Figures } from '@chronicon/core/contract';
import type { Question } from '@chronicon/core/figures';
import type { DrawOrder } from '@chronicon/core/page';
import type { GalleryState } from '@chronicon/core/page/gallery';
import type { Format } from '@chronicon/core/report';
import pLimit, { type LimitFunction } from 'p-limit';
import { Piscina } from 'piscina';
import type { Asked, Basis, Explained, OneFigure, RowsPage } from '../figures/reading.ts';
import type { FiguresView } from '../figures/reply.ts';
import { stillWaits, timeLeft, whoAsks } from '../platform/asking.ts';
import { BudgetError } from '../platform/budget.ts';
import { builtFile } from './builtFile.ts';
import type { TableOrder } from './figuresTable.ts';
import { withinBudget } from './withinBudget.ts';
import type { EditionResult, GalleryResult, MailResult, Order, PreviewResult, Results, Task, Wants } from './worker.ts';
import { Written } from './written.ts';

/** Finds the pictures at addresses that items of a report name. */
export type FindPictures = (addresses: string[]) => Promise<NonNullable<DrawOrder['pictures']>>;

const NO_PICTURES: FindPictures = async () => ({});

/** What is drawn, once more with its pictures where items of it name some: which ones stand out is known by then. */
async function withPictures<T extends object>(
  order: DrawOrder,
  find: FindPictures,
  run: (order: DrawOrder) => Promise<T | Wants>,
): Promise<Exclude<T, Wants>> {
  const drawn = await run(order);
  if (!('wants' in drawn)) return drawn as Exclude<T, Wants>;
  return (await run({ ...order, pictures: await find(drawn.wants) })) as Exclude<T, Wants>;
}

/**
 * Draws pages and answers questions in warm worker threads. Preview and print have one layout and one shaping engine.
 * People and editions have threads of their own. A task that takes longer than it may is ended with its thread, and the
 * thread is replaced.
 */
export interface Workers {
  /**
   * @param looked addresses of pictures that were looked for
   * @param find looks for others that the pages are to show, before they are laid out
   */
  preview(
    order: DrawOrder,
    have: string[],
    pages: number | null,
    looked?: readonly string[],
    find?: FindPictures,
  ): Promise<PreviewResult>;
  /** The PDF of what is looked at, without keeping anything of it. */
  paint(order: DrawOrder, created: string, find?: FindPictures): Promise<Uint8Array>;
  /**
   * Draws an edition and writes its files, on the disk before it returns.
   * @param created the edition's own instant, which goes into the file
   * @throws Error of the system where the disk does not take them
   */
  edition(order: DrawOrder, created: string, find?: FindPictures): Promise<EditionResult>;
  /** What the mail of an order would show, for whoever designs it. */
  mail(order: DrawOrder): Promise<MailResult>;
  /** The PDF of a frozen edition once more, from the file of its frozen figures; `created` where that names no instant. */
  repaint(frozen: string, created: string): Promise<Uint8Array>;
  /** The pictures of a frozen edition's mail once more. */
  pictures(frozen: string): Promise<Uint8Array[]>;
  /** The figures of a frozen edition's pages as a file of their own; `created` is when it is said to have been made. */
  figuresFile(frozen: string, format: Format, created: string): Promise<Buffer>;
  /** Answers questions on figures; reading and adding up keep no other request waiting. */
  ask(basis: Basis, questions: Question[]): Promise<Asked>;
  /** What the Figures place shows, written for whoever asked. */
  figures(view: FiguresView): Promise<Written<Figures>>;
  table(order: TableOrder): Promise<Buffer>;
  explain(basis: Basis, figure: OneFigure): Promise<Explained>;
  rows(basis: Basis, figure: OneFigure, source: number, page: number): Promise<RowsPage>;
  /** Every kind of block in one language and state, for whoever writes one. */
  gallery(language: string, state: GalleryState): Promise<GalleryResult>;
  warm(): Promise<void>;
  close(): Promise<void>;
}

/** Milliseconds: a person who waits; an edition, and what the server asks for itself. */
export const BUDGETS = { person: 10_000, edition: 120_000 };

/** How many threads there are always, and at most. */
interface Threads {
  least: number;
  most: number;
}

/** Each person gets all but one of the threads for people at most. */
export const THREADS: Record<'people' | 'editions', Threads> = {
  people: { least: 2, most: 3 },
  editions: { least: 1, most: 2 },
};
const ON_DEMAND: Threads = { least: 0, most: 2 };
/** Nothing is started before it is asked for, and all work is done by the same. */
export const THREADS_ON_DEMAND: typeof THREADS = { people: ON_DEMAND, editions: ON_DEMAND };
/** Questions that one person may have waiting. */
const MOST_WAITING = 40;

/** Memory that one thread may take, in megabytes: a runaway ends alone. */
const THREAD_MEMORY = 1_536;

/** How much less than others the threads get that nobody waits for, as the system counts it (POSIX nice, 0 to 19). */
const EDITIONS_YIELD = 10;

function openPool(threads: Threads, niceIncrement = 0) {
  const pool = new Piscina<Order, unknown>({
    filename: builtFile('workerEntry.cjs', import.meta.url).href,
    minThreads: threads.least,
    maxThreads: threads.most,
    idleTimeout: Number.POSITIVE_INFINITY,
    niceIncrement,
    resourceLimits: { maxOldGenerationSizeMb: THREAD_MEMORY },
  });
  // A thread that dies takes its task with it, which says so; it is replaced.
  pool.on('error', () => undefined);
  return pool;
}
type Pool = ReturnType<typeof openPool>;

/** The threads of these workers: their own, or those that all servers of a process have together. */
export interface Pools {
  people: Pool;
  editions: Pool;
  threads: typeof THREADS;
  close(): Promise<void>;
}

export function openPools(threads = THREADS): Pools {
  const people = openPool(threads.people);
  const editions = threads.editions === threads.people ? people : openPool(threads.editions, EDITIONS_YIELD);
  return {
    people,
    editions,
    threads,
    close: async () => {
      await Promise.all([...new Set([people, editions])].map((pool) => pool.destroy()));
    },
  };
}

let shared: Pools | null = null;
/** For servers that live a moment, one after the other in a process: threads stay warm, and end with the process. */
export const sharedPools = (): Pools => {
  shared ??= { ...openPools(THREADS_ON_DEMAND), close: async () => undefined };
  return shared;
};

export function createWorkers(data: string, budgets = BUDGETS, pools = openPools()): Workers {
  const { people, editions, threads } = pools;
  /** What is under way; ended when the workers close. */
  const running = new Set<AbortController>();
  const limits = new Map<string, LimitFunction>();
  /** Their budget is for drawing, not for waiting until others are drawn. */
  const inTurn = pLimit(threads.editions.most);

  const within = async <T extends Task>(pool: Pool, task: T, budget: number): Promise<Results[T['kind']]> =>
    (await withinBudget(budget, (signal) => pool.run({ data, task }, { signal }), running)) as Results[T['kind']];

  /** For the person who asks; their questions take turns among themselves and never have all threads. */
  const forPerson = async <T extends Task>(task: T): Promise<Results[T['kind']]> => {
    const who = whoAsks();
    if (who === null) return within(people, task, budgets.edition);
    const limit = limits.get(who) ?? pLimit(threads.people.most - 1);
    limits.set(who, limit);
    if (limit.pendingCount > MOST_WAITING) throw new BudgetError(Math.round(budgets.person / 1000));
    // Where a hand goes on typing, what waits in turn is for a page that nobody sees any more.
    try {
      return await limit(() => {
        stillWaits();
        return within(people, task, Math.min(budgets.person, timeLeft()));
      });
    } finally {
      if (limit.pendingCount + limit.activeCount === 0) limits.delete(who);
    }
  };

  return {
    async preview(order, have, pages, looked = [], find = NO_PICTURES) {
      let known = [...looked];
      const drawn = await withPictures(
        order,
        async (wants) => {
          known = wants;
          return find(wants);
        },
        (o) => forPerson({ kind: 'preview', order: o, have, pages, looked: known }),
      );
      // What comes out of a thread has lost its class.
      return { ...drawn, pages: new Written(drawn.pages.bytes) };
    },
    paint: async (order, created, find = NO_PICTURES) =>
      (await withPictures(order, find, (o) => forPerson({ kind: 'paint', order: o, created }))).pdf,
    // Services that are slow with their pictures hold no turn.
    async edition(order, created, find = NO_PICTURES) {
      const drawn = await withPictures(order, find, (o) =>
        inTurn(() => within(editions, { kind: 'edition', order: o, created }, budgets.edition)),
      );
      if ('unwritten' in drawn) throw Object.assign(new Error(drawn.unwritten.message), { code: drawn.unwritten.code });
      return drawn;
    },
    mail: (order) => forPerson({ kind: 'mail', order }),
    repaint: (frozen, created) => inTurn(() => within(editions, { kind: 'repaint', frozen, created }, budgets.edition)),
    pictures: (frozen) => inTurn(() => within(editions, { kind: 'pictures', frozen }, budgets.edition)),
    figuresFile: async (frozen, format, created) =>
      Buffer.from(
        await inTurn(() => within(editions, { kind: 'figuresFile', frozen, format, created }, budgets.edition)),
      ),
    ask: (basis, questions) => forPerson({ kind: 'ask', basis, questions }),
    figures: async (view) => new Written((await forPerson({ kind: 'figures', view })).bytes),
    table: async (order) => Buffer.from(await forPerson({ kind: 'table', order })),
    explain: (basis, figure) => forPerson({ kind: 'explain', basis, figure }),
    rows: (basis, figure, source, page) => forPerson({ kind: 'rows', basis, figure, source, page }),
    gallery: (language, state) => forPerson({ kind: 'gallery', language, state }),
    async warm() {
      const task = { kind: 'warm' } as const;
      const warm = (pool: Pool, n: number) => Array.from({ length: n }, () => pool.run({ data, task }));
      await Promise.all([...warm(people, threads.people.least), ...warm(editions, threads.editions.least)]);
    },
    async close() {
      for (const ending of running) ending.abort();
      await pools.close();
    },
  };
}
