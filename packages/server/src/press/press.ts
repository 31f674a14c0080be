import { existsSync } from 'node:fs';
import { Piscina } from 'piscina';
import type { DrawOrder } from './draw.ts';
import type { EditionResult, PreviewResult, Task } from './worker.ts';

/** Draws pages in warm worker threads, for preview and print alike: one layout, one shaping engine. */
export interface Press {
  preview(order: DrawOrder, have: string[]): Promise<PreviewResult>;
  /** @param created the edition's own instant, which goes into the file */
  edition(order: DrawOrder, created: string): Promise<EditionResult>;
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
  return {
    preview: (order, have) => pool.run({ kind: 'preview', order, have }) as Promise<PreviewResult>,
    edition: (order, created) => pool.run({ kind: 'edition', order, created }) as Promise<EditionResult>,
    async warm() {
      await Promise.all(Array.from({ length: THREADS }, () => pool.run({ kind: 'warm' })));
    },
    close: () => pool.destroy(),
  };
}
