import { existsSync } from 'node:fs';
import { PICTURE } from '@chronicon/core/bounds';
import type { Logo } from '@chronicon/core/report';
import { Piscina } from 'piscina';
import type { Files } from '../store/files.ts';
import type { ReadPicture } from './pictureWorker.ts';
import { LogoError } from './svgLogo.ts';

export const LOGO_LIMIT = PICTURE.bytes;

/** Milliseconds after which a picture is given up, with the thread that reads it. */
const TIME = 8_000;
const MEMORY = 512;

/** Pictures that people upload are read in a thread of their own: one that is built to do harm harms that alone. */
export interface Pictures {
  /**
   * Takes an uploaded file as a logo: an SVG as paths, a PNG or JPEG decoded and kept as a file of the data folder.
   * @throws LogoError in words for the person who chose it
   */
  readLogo(data: Buffer, files: Files): Promise<Logo>;
  close(): Promise<void>;
}

function workerFile(): string {
  const places = ['./pictureEntry.cjs', '../pictureEntry.cjs', '../../../../build/pictureEntry.cjs'].map(
    (p) => new URL(p, import.meta.url),
  );
  const found = places.find((p) => existsSync(p));
  if (!found) throw new Error('the reader of pictures is not built: run "npm run build" first');
  return found.href;
}

export function createPictures(): Pictures {
  let pool: Piscina<Uint8Array, ReadPicture> | null = null;
  const open = () => {
    pool ??= new Piscina<Uint8Array, ReadPicture>({
      filename: workerFile(),
      minThreads: 0,
      maxThreads: 1,
      maxQueue: 20,
      idleTimeout: 30_000,
      resourceLimits: { maxOldGenerationSizeMb: MEMORY },
    });
    return pool;
  };
  return {
    async readLogo(data, files) {
      if (data.length > LOGO_LIMIT) throw new LogoError('The file is larger than 5 MB.');
      let read: ReadPicture;
      try {
        read = await open().run(data, { signal: AbortSignal.timeout(TIME) });
      } catch {
        throw new LogoError('The picture takes too long to read, or too much memory. Save it simpler or smaller.');
      }
      if (read.kind === 'refused') throw new LogoError(read.message);
      if (read.kind === 'vector') return read.logo;
      const { type, width, height, pale } = read;
      return { kind: 'image', file: files.write(read.data), type, width, height, pale };
    },
    async close() {
      await pool?.destroy();
    },
  };
}
