import { createHash } from 'node:crypto';
import { createWriteStream, mkdirSync, rmSync } from 'node:fs';
import { open } from 'node:fs/promises';
import { join } from 'node:path';
import { Transform } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { FILE } from '@chronicon/core/bounds';
import type { Request } from 'express';
import { atField, Refusal } from '../platform/refusal.ts';
import { faultOf } from '../store/faults.ts';
import { newImportId, type StoredImport } from '../store/imports.ts';
import { agencyOf } from '../store/members.ts';
import type { Api } from './context.ts';

/** Milliseconds without a byte after which a file that is being sent is given up. */
const SILENCE = 30_000;
const tooLarge = (limit: number): Refusal => {
  const said = `The file exceeds ${limit / 1024 / 1024} MB. Split it by year or month.`;
  return new Refusal(413, said, { file: said });
};

/** A file name as somebody gave it, without any folder. */
function nameOf(text: unknown): string {
  const name = String(text ?? '')
    .split(/[\\/]/)
    .pop()!
    .replace(/[\p{Cc}]/gu, '')
    .trim()
    .slice(0, 200);
  return name === '' ? 'file' : name;
}

/**
 * Streams a request's body into a file, on disk before it returns; what grows beyond the limit leaves nothing behind.
 * @throws Refusal 413
 */
async function keepBody(req: Request, path: string, limit: number): Promise<number> {
  const told = Number(req.get('content-length') ?? 0);
  if (told > limit) throw tooLarge(limit);
  let bytes = 0;
  // Who sends nothing for a while is not waited for.
  const ending = new AbortController();
  let timer = setTimeout(() => ending.abort(), SILENCE);
  const counted = new Transform({
    transform(part: Buffer, _encoding, done) {
      bytes += part.length;
      clearTimeout(timer);
      timer = setTimeout(() => ending.abort(), SILENCE);
      if (bytes > limit) done(tooLarge(limit));
      else done(null, part);
    },
  });
  try {
    await pipeline(req, counted, createWriteStream(path, { mode: 0o600 }), { signal: ending.signal });
  } catch (error) {
    rmSync(path, { force: true });
    const fault = faultOf(error);
    if (fault) throw error;
    throw error instanceof Refusal ? error : new Refusal(400, 'The upload was cut off. Nothing was kept.');
  } finally {
    clearTimeout(timer);
  }
  // A disk that is slow keeps nobody waiting but who brought it.
  const handle = await open(path, 'r+');
  try {
    await handle.sync();
  } finally {
    await handle.close();
  }
  return bytes;
}

/** Takes a file from a request's body and has it looked at. */
export async function takeUpload(
  api: Api,
  req: Request,
  about: Pick<StoredImport, 'clientId' | 'feedId' | 'source' | 'madeBy'> & { name: unknown },
): Promise<StoredImport> {
  const { name, ...rest } = about;
  const id = newImportId();
  const path = join('imports', id);
  mkdirSync(join(api.config.data, 'imports'), { recursive: true });
  const { fileMegabytes } = (await agencyOf(api.store))!.settings.limits;
  const limit = Math.min(FILE.bytes, fileMegabytes * 1024 * 1024);
  const bytes = await keepBody(req, join(api.config.data, path), limit);
  if (bytes === 0) {
    rmSync(join(api.config.data, path), { force: true });
    throw atField('file', 'The file is empty.');
  }
  return api.imports.take({ id, path, bytes, fileName: nameOf(name), hints: null, ...rest });
}

/** How a secret address is kept. */
export const dropHash = (key: string): string => createHash('sha256').update(key).digest('base64url');
