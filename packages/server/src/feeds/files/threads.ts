import { existsSync } from 'node:fs';
import { Worker } from 'node:worker_threads';

/** Memory of a thread beyond which a file is given up, in MB. */
const MOST_MEMORY = 700;
/** Milliseconds for which a thread is kept that has nothing to do: whoever looked at a file imports it next. */
const IDLE = 60_000;

/** The worker is built beside the server; from sources, it lies in the build folder. */
function workerFile(): URL {
  const places = ['./importWorker.mjs', '../../../../../build/importWorker.mjs'].map(
    (p) => new URL(p, import.meta.url),
  );
  const found = places.find((p) => existsSync(p));
  if (!found) throw new Error('the import worker is not built: run "npm run build" first');
  return found;
}

/** Threads that read files: one is kept warm for a while after its job. */
export interface Threads {
  take(): Worker;
  /** Takes back a thread that ended its job in good order. */
  giveBack(worker: Worker): void;
  close(): Promise<void>;
}

export function createThreads(): Threads {
  let idle: Worker | null = null;
  let timer: NodeJS.Timeout | null = null;
  /** A thread that dies while it waits is simply not there any more. */
  const gone = () => {
    idle = null;
  };
  const drop = async () => {
    if (timer) clearTimeout(timer);
    timer = null;
    const worker = idle;
    idle = null;
    await worker?.terminate();
  };
  return {
    take() {
      const worker = idle;
      idle = null;
      if (timer) clearTimeout(timer);
      worker?.off('error', gone).off('exit', gone);
      return worker ?? new Worker(workerFile(), { resourceLimits: { maxOldGenerationSizeMb: MOST_MEMORY } });
    },
    giveBack(worker) {
      if (idle) {
        worker.terminate();
        return;
      }
      idle = worker;
      worker.on('error', gone).on('exit', gone);
      timer = setTimeout(drop, IDLE).unref();
    },
    close: drop,
  };
}
