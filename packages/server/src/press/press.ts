import { existsSync } from 'node:fs';
import type { Question } from '@chronicon/core/figures';
import { Piscina } from 'piscina';
import type { Asked, Basis, Explained, OneFigure, RowsPage } from '../figures/reading.ts';
import type { DrawOrder } from './draw.ts';
import type { EditionResult, PreviewResult, Results, Task } from './worker.ts';

/** Draws pages in warm worker threads, for preview and print alike: one layout, one shaping engine. */
export interface Press {
  preview(order: DrawOrder, have: string[]): Promise<PreviewResult>;
  /** @param created the edition's own instant, which goes into the file */
  edition(order: DrawOrder, created: string): Promise<EditionResult>;
  /** Answers questions on figures; reading and adding up keep no other request waiting. */
  ask(basis: Basis, questions: Question[]): Promise<Asked>;
  explain(basis: Basis, figure: OneFigure): Promise<Explained>;
  rows(basis: Basis, figure: OneFigure, source: number, page: number): Promise<RowsPage>;
  warm(): Promise<void>;
  close(): Promise<void>;
}

const THREADS = 2;

/** The worker is built beside the server; from sources, it lies in the build folder. */
function workerFile(): string {
  const places = ['./pressEntry.cjs', '../pressEntry.cjs', '../../../../build/pressEntry.cjs'].map(
    (p) => new URL(p, import.meta.url),
  );
  const found = places.find((p) => existsSync(p));
  if (!found) throw new Error('the press is not built: run "npm run build" first');
  return found.href;
}

export function createPress(data: string): Press {
  const pool = new Piscina<Task, unknown>({
    filename: workerFile(),
    minThreads: THREADS,
    maxThreads: THREADS,
    idleTimeout: Number.POSITIVE_INFINITY,
    workerData: { data },
  });
  const run = <T extends Task>(task: T) => pool.run(task) as Promise<Results[T['kind']]>;
  return {
    preview: (order, have) => run({ kind: 'preview', order, have }),
    edition: (order, created) => run({ kind: 'edition', order, created }),
    ask: (basis, questions) => run({ kind: 'ask', basis, questions }),
    explain: (basis, figure) => run({ kind: 'explain', basis, figure }),
    rows: (basis, figure, source, page) => run({ kind: 'rows', basis, figure, source, page }),
    async warm() {
      await Promise.all(Array.from({ length: THREADS }, () => pool.run({ kind: 'warm' })));
    },
    close: () => pool.destroy(),
  };
}
