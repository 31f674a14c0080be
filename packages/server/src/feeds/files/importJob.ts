import type { Loaded, LoadOrder, LoadProgress } from './load.ts';
import type { FileLook, lookAt } from './look.ts';

/** What a thread is asked to do with one file: files are read where they keep no request waiting. */
export type ImportJob =
  | { kind: 'look'; path: string; ask: Parameters<typeof lookAt>[1] }
  | { kind: 'load'; data: string; order: LoadOrder };

/** What a thread says of the job that it has. */
export type ImportNews =
  | { kind: 'looked'; looked: FileLook }
  | { kind: 'progress'; progress: LoadProgress }
  | { kind: 'loaded'; loaded: Loaded }
  /** In words for the person who brought the file. */
  | { kind: 'refused'; message: string };

/** Threads that read files. Whoever makes imports hands them in. */
export interface ImportThreads {
  /**
   * Runs one job of the import `id`.
   * @throws FileError for what is wrong with the file, or when it is stopped
   */
  run<T extends FileLook | Loaded>(id: string, job: ImportJob, onProgress?: (news: ImportNews) => void): Promise<T>;
  /** Ends the thread that works for this import, if one does. */
  stop(id: string): Promise<void>;
  close(): Promise<void>;
}
