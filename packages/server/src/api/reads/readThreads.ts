import pLimit, { type LimitFunction } from 'p-limit';
import { Piscina } from 'piscina';
import { stillWaits, timeLeft, whoAsks } from '../../platform/asking.ts';
import { BudgetError } from '../../platform/budget.ts';
import { Refusal } from '../../platform/refusal.ts';
import { countStatements } from '../../platform/statements.ts';
import type { Health } from '../../scheduler/health.ts';
import { builtFile } from '../../workers/builtFile.ts';
import { withinBudget } from '../../workers/withinBudget.ts';
import type { ReadJob, ReadName, ReadResult } from './readJob.ts';

/** Milliseconds that a read may take, and one that makes a file. */
const BUDGETS = { screen: 20_000, file: 60_000, upload: 5_000 };
const MEMORY = 768;
/** One thread is for files, two are for screens. */
const THREADS = 3;
/** One person has one screen read at a time, which leaves a thread for others. All files take turns in one thread. */
const AT_ONCE = 1;
const MOST_WAITING = 20;
/** Files of all that a member sees may take longer than screens. What somebody brings may be made to do harm: it may take less. */
const KIND: Partial<Record<ReadName, keyof typeof BUDGETS>> = {
  'look-ahead.csv': 'file',
  'calendar.ics': 'file',
  'calendar.read': 'upload',
  'template.followed': 'file',
};

/** Threads for what is read of many clients at once: lists, sheets, and files of them. */
export interface ReadThreads {
  /** @throws Refusal as the read says, BudgetError where it takes too long */
  run(job: Omit<ReadJob, 'data' | 'troubles'>): Promise<Uint8Array>;
  close(): Promise<void>;
}

function openPool(least: number) {
  const pool = new Piscina<ReadJob, ReadResult>({
    filename: builtFile('readWorkerEntry.cjs', import.meta.url).href,
    minThreads: least,
    maxThreads: THREADS,
    idleTimeout: Number.POSITIVE_INFINITY,
    resourceLimits: { maxOldGenerationSizeMb: MEMORY },
  });
  // A thread that dies takes its read with it, which says so; it is replaced.
  pool.on('error', () => undefined);
  return pool;
}
type Pool = ReturnType<typeof openPool>;

let shared: Pool | null = null;

/** @param short whether servers live a moment, one after the other in a process: threads stay warm and are theirs together */
export function createReadThreads(
  data: string,
  health: Pick<Health, 'troubles'>,
  short: boolean,
  budgets = BUDGETS,
): ReadThreads {
  if (short) shared ??= openPool(0);
  const pool = short ? shared! : openPool(1);
  const limits = new Map<string, LimitFunction>();

  async function within(job: ReadJob, budget: number): Promise<Uint8Array> {
    const result = await withinBudget(budget, (signal) => pool.run(job, { signal }));
    if ('refused' in result) throw new Refusal(result.refused.status, result.refused.message, result.refused.fields);
    if ('broken' in result) throw Object.assign(new Error(result.broken.message), { code: result.broken.code });
    countStatements(result.statements);
    return result.bytes;
  }

  return {
    async run(asked) {
      const job: ReadJob = { ...asked, data, troubles: health.troubles() };
      const kind = KIND[job.name] ?? 'screen';
      // A file that takes its time keeps nobody from a screen, its own reader neither.
      const line = kind === 'screen' ? (whoAsks() ?? job.member.id) : 'files';
      const limit = limits.get(line) ?? pLimit(AT_ONCE);
      limits.set(line, limit);
      if (limit.pendingCount > MOST_WAITING) throw new BudgetError(budgets.screen / 1000);
      try {
        return await limit(() => {
          stillWaits();
          return within(job, kind === 'file' ? budgets.file : Math.min(budgets[kind], timeLeft()));
        });
      } finally {
        if (limit.pendingCount + limit.activeCount === 0) limits.delete(line);
      }
    },
    close: async () => {
      if (!short) await pool.destroy();
    },
  };
}
