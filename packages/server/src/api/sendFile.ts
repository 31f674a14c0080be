import { type FileHandle, open } from 'node:fs/promises';
import { pipeline } from 'node:stream/promises';
import type { Response } from 'express';
import { notFound } from '../platform/refusal.ts';

/**
 * Sends a file as it lies on the disk, and ends with the reply whatever happens: a reader who leaves ends the reading, a
 * disk that fails ends the reply.
 * @param what what it is, where it is not there any more
 * @throws Refusal 404 where there is no such file
 */
export async function sendFile(res: Response, path: string, what: string): Promise<void> {
  let file: FileHandle;
  try {
    file = await open(path);
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === 'ENOENT') throw notFound(what);
    throw error;
  }
  try {
    await pipeline(file.createReadStream({ autoClose: false }), res);
  } catch (error) {
    // Whoever asked has gone: nobody is left to be told.
    if ((error as NodeJS.ErrnoException).code !== 'ERR_STREAM_PREMATURE_CLOSE') throw error;
  } finally {
    await file.close();
  }
}
