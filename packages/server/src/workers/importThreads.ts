import { Worker } from 'node:worker_threads';
import type { ImportJob, ImportNews, ImportThreads } from '../feeds/files/importJob.ts';
import type { Loaded } from '../feeds/files/load.ts';
import type { FileLook } from '../feeds/files/look.ts';
import { FileError } from '../feeds/files/rows.ts';
import { builtFile } from './builtFile.ts';

/** Memory of a thread beyond which a file is given up, in MB. */
const MOST_MEMORY = 700;
/** Milliseconds for which a thread is kept that has nothing to do: whoever looked at a file imports it next. */
const IDLE = 60_000;

/** Milliseconds without any news after which a file is given up. */
const SILENCE = 90_000;
const OUT_OF_MEMORY = 'The file is too large to process. Split it and try again. Nothing was imported.';
const SILENT = 'Couldn’t read the whole file. Save it again (or as CSV) and re-upload. Nothing was imported.';

/** Threads that wait for a job: one is kept warm for a while after its job. */
interface IdleThreads {
  take(): Worker;
  /** Takes back a thread that ended its job in good order. */
  giveBack(worker: Worker): void;
  close(): Promise<void>;
}

function keepIdle(): IdleThreads {
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
      return (
        worker ??
        new Worker(builtFile('importWorker.mjs', import.meta.url), {
          resourceLimits: { maxOldGenerationSizeMb: MOST_MEMORY },
        })
      );
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

/** Threads of their own for files: one that is built to do harm, or too large, ends its own thread and no other work. */
export function createImportThreads(): ImportThreads {
  const idle = keepIdle();
  const workers = new Map<string, Worker>();

  function run<T extends FileLook | Loaded>(
    id: string,
    job: ImportJob,
    onProgress?: (n: ImportNews) => void,
  ): Promise<T> {
    return new Promise((resolve, reject) => {
      const worker = idle.take();
      workers.set(id, worker);
      let settled = false;
      let watch = setTimeout(() => undefined, 0);
      const awaitNews = () => {
        clearTimeout(watch);
        watch = setTimeout(() => {
          settle(() => reject(new FileError(SILENT)));
          worker.terminate();
        }, SILENCE);
      };
      const settle = (act: () => void) => {
        if (settled) return;
        settled = true;
        clearTimeout(watch);
        workers.delete(id);
        worker.off('message', onMessage).off('error', onError).off('exit', onExit);
        act();
      };
      const finish = (act: () => void) => {
        settle(act);
        idle.giveBack(worker);
      };
      const onMessage = (news: ImportNews) => {
        awaitNews();
        if (news.kind === 'progress') onProgress?.(news);
        else if (news.kind === 'refused') finish(() => reject(new FileError(news.message)));
        else finish(() => resolve((news.kind === 'looked' ? news.looked : news.loaded) as T));
      };
      const onError = (error: NodeJS.ErrnoException) => {
        const full = error.code === 'ERR_WORKER_OUT_OF_MEMORY';
        settle(() => reject(full ? new FileError(OUT_OF_MEMORY) : error));
      };
      const onExit = () => settle(() => reject(new FileError('Stopped.')));
      worker.on('message', onMessage).on('error', onError).on('exit', onExit);
      awaitNews();
      worker.postMessage(job);
    });
  }

  return {
    run,
    async stop(id) {
      await workers.get(id)?.terminate();
    },
    async close() {
      for (const worker of workers.values()) await worker.terminate();
      await idle.close();
    },
  };
}
