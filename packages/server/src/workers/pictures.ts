import { PICTURE } from '@chronicon/core/bounds';
import type { Logo, PictureFile } from '@chronicon/core/report';
import { Piscina } from 'piscina';
import type { Files } from '../store/files.ts';
import { builtFile } from './builtFile.ts';
import type { KeptAs, ReadPicture } from './pictureWorker.ts';
import { LogoError } from './svgLogo.ts';

export const LOGO_LIMIT = PICTURE.bytes;

/** Milliseconds after which a picture is given up, with the thread that reads it. */
const TIME = 8_000;
const MEMORY = 512;

/** A typeface that is kept as a file. */
export interface Brought {
  file: string;
  name: string;
  isBold: boolean;
  said: string[];
}

/** Pictures and typefaces that people upload are read in a thread of their own: one that is built to do harm harms that alone. */
export interface Pictures {
  /**
   * Takes an uploaded file as a logo: an SVG as paths, a PNG or JPEG decoded and kept as a file of the data folder.
   * @throws LogoError in words for the person who chose it
   */
  readLogo(data: Buffer, files: Files): Promise<Logo>;
  /**
   * Takes a fetched file as a picture for a row of a table: cut to a small square.
   * @throws LogoError in words for whoever is told of it
   */
  readSmall(data: Buffer, files: Files): Promise<PictureFile>;
  /**
   * Takes an uploaded file as the picture at the head of mails: as wide as they are, in a form that every mail program shows.
   * @throws LogoError in words for the person who chose it
   */
  readMailHead(data: Buffer, files: Files): Promise<PictureFile>;
  /**
   * Takes an uploaded file as a typeface, kept as TrueType whatever it was.
   * @throws LogoError in words for the person who brought it
   */
  readTypeface(data: Buffer, files: Files): Promise<Brought>;
  close(): Promise<void>;
}

export function createPictures(): Pictures {
  type Sent = { sent: Uint8Array; as: KeptAs };
  let pool: Piscina<Sent, ReadPicture> | null = null;
  const open = () => {
    pool ??= new Piscina<Sent, ReadPicture>({
      filename: builtFile('pictureEntry.cjs', import.meta.url).href,
      minThreads: 0,
      maxThreads: 1,
      maxQueue: 200,
      idleTimeout: 30_000,
      resourceLimits: { maxOldGenerationSizeMb: MEMORY },
    });
    return pool;
  };
  const read = async (sent: Buffer, as: KeptAs): Promise<Exclude<ReadPicture, { kind: 'refused' }>> => {
    if (sent.length > LOGO_LIMIT) throw new LogoError('The file is larger than 5 MB.');
    let found: ReadPicture;
    try {
      found = await open().run({ sent, as }, { signal: AbortSignal.timeout(TIME) });
    } catch {
      const what = as === 'typeface' ? 'typeface' : 'picture';
      throw new LogoError(`The ${what} is too complex. Simplify or shrink it.`);
    }
    if (found.kind === 'refused') throw new LogoError(found.message);
    return found;
  };
  const keep = async (
    { data, ...rest }: Extract<ReadPicture, { kind: 'image' }>,
    files: Files,
  ): Promise<PictureFile> => ({
    ...rest,
    file: await files.keep(data),
  });
  return {
    async readLogo(data, files) {
      const found = await read(data, 'whole');
      if (found.kind === 'vector') return found.logo;
      if (found.kind === 'typeface') throw new LogoError('A font is not a picture.');
      return keep(found, files);
    },
    async readSmall(data, files) {
      const found = await read(data, 'small');
      if (found.kind !== 'image') throw new LogoError('A drawing is no picture of an item.');
      return keep(found, files);
    },
    async readMailHead(data, files) {
      const found = await read(data, 'mail');
      if (found.kind !== 'image') throw new LogoError('Email header pictures must be PNG or JPEG.');
      return keep(found, files);
    },
    async readTypeface(data, files) {
      const found = await read(data, 'typeface');
      if (found.kind !== 'typeface') throw new LogoError('Not a font file.');
      const { data: bytes, kind: _, ...rest } = found;
      return { ...rest, file: await files.keep(bytes) };
    },
    async close() {
      await pool?.destroy();
    },
  };
}
