import { type FileMapping, fileMapping, type Inspection } from '@chronicon/core/feeds';
import { z } from 'zod';
import type { StoredFeed } from '../../store/feeds.ts';
import { stored } from '../../store/stored.ts';

/** How a feed of files is kept: how its files are read, and the folder in which they are looked for. */
export interface FileSetup {
  mapping: FileMapping;
  folder: string;
  /** The feeds of its rows in other currencies, by the currency as the file names it. */
  splits?: Record<string, string> | undefined;
  /** With which feeds it is counted together; left out for one that stands alone. */
  family?: string | undefined;
}

const setupIn = stored<FileSetup>(
  z.object({
    mapping: fileMapping,
    folder: z.string(),
    splits: z.record(z.string(), z.string()).optional(),
    family: z.string().optional(),
  }),
  'how a feed of files is read',
);

export const fileSetupOf = (feed: StoredFeed): FileSetup | null =>
  feed.kind === 'file' && feed.setup !== null ? setupIn(feed.setup) : null;

/** Whether a file has the very columns that a mapping reads. */
export const hasColumns = ({ columns }: FileMapping, found: Inspection['columns']): boolean =>
  found.length === Object.keys(columns).length && found.every((c) => Object.hasOwn(columns, c.name));
