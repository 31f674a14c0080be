import { parentPort } from 'node:worker_threads';
import { openFactWriter } from '../facts/factStore.ts';
import type { ImportJob, ImportNews } from '../feeds/files/importJob.ts';
import { loadFile } from '../feeds/files/load.ts';
import { lookAt } from '../feeds/files/look.ts';
import { FileError } from '../feeds/files/rows.ts';

const TELL_MS = 150;

const post = (news: ImportNews) => parentPort!.postMessage(news);

async function load(job: Extract<ImportJob, { kind: 'load' }>): Promise<void> {
  const facts = openFactWriter(job.data);
  try {
    let told = 0;
    const loaded = await loadFile(facts, job.order, (progress) => {
      if (performance.now() - told < TELL_MS) return;
      told = performance.now();
      post({ kind: 'progress', progress });
    });
    post({ kind: 'loaded', loaded });
  } finally {
    await facts.destroy();
  }
}

async function run(job: ImportJob): Promise<void> {
  try {
    if (job.kind === 'look') post({ kind: 'looked', looked: await lookAt(job.path, job.ask) });
    else await load(job);
  } catch (error) {
    if (!(error instanceof FileError)) throw error;
    post({ kind: 'refused', message: error.message });
  }
}

// What is not a fault of the file ends the thread, and is told as its error.
parentPort!.on('message', (job: ImportJob) =>
  run(job).catch((error) =>
    setImmediate(() => {
      throw error;
    }),
  ),
);
