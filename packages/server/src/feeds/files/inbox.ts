import { copyFileSync, mkdirSync, readdirSync, readFileSync, renameSync, rmSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { type FileHints, readDescription } from '@chronicon/core/feeds';
import { feedsOfKind, type StoredFeed } from '../../store/feeds.ts';
import { newImportId } from '../../store/imports.ts';
import { fileSetupOf } from './fileSetup.ts';
import type { ImportTools } from './importRoom.ts';
import type { Imports } from './imports.ts';

/** The name of a description of a file, beside it (CSV on the Web, §5.3 of "Model for Tabular Data"). */
const descriptionOf = (name: string): string => `${name}-metadata.json`;

function hintsBeside(folder: string, name: string): FileHints | null {
  try {
    return readDescription(JSON.parse(readFileSync(join(folder, descriptionOf(name)), 'utf8')));
  } catch {
    // There is none, or none that says anything: the file speaks for itself.
    return null;
  }
}

/** The folder may be on another disk. */
function move(from: string, to: string): void {
  try {
    renameSync(from, to);
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code !== 'EXDEV') throw error;
    copyFileSync(from, to);
    rmSync(from);
  }
}

/** Watches the folders of feeds of files: what lies there unchanged from one look to the next is taken in. */
export interface Inbox {
  look(): Promise<void>;
}

export function createInbox(tools: ImportTools, imports: Imports): Inbox {
  const { store, config, log } = tools;
  const seen = new Map<string, string>();

  /** Moves the file to where imports lie; looking at it and importing it goes on by itself. */
  function take(feed: StoredFeed, folder: string, name: string): void {
    const id = newImportId();
    const path = join('imports', id);
    const hints = hintsBeside(folder, name);
    move(join(folder, name), join(config.data, path));
    rmSync(join(folder, descriptionOf(name)), { force: true });
    const bytes = statSync(join(config.data, path)).size;
    const about = { clientId: feed.client_id, feedId: feed.id, fileName: name, hints };
    imports
      .take({ id, path, bytes, ...about, source: 'folder', madeBy: null })
      .catch((err) => log.error({ err, file: name }, 'file could not be taken in'));
  }

  return {
    async look() {
      for (const feed of await feedsOfKind(store, 'file')) {
        const setup = fileSetupOf(feed);
        // Rows of another currency come with the file of the feed that they were split from.
        if (!setup || setup.mapping.onlyCurrency) continue;
        const folder = join(config.inbox, setup.folder);
        mkdirSync(folder, { recursive: true });
        for (const entry of readdirSync(folder, { withFileTypes: true })) {
          if (!entry.isFile() || entry.name.startsWith('.') || entry.name.endsWith('-metadata.json')) continue;
          const path = join(folder, entry.name);
          const { size, mtimeMs } = statSync(path);
          const mark = `${size} ${mtimeMs}`;
          if (seen.get(path) !== mark) {
            // Somebody may still be writing it.
            seen.set(path, mark);
            continue;
          }
          seen.delete(path);
          take(feed, folder, entry.name);
        }
      }
    },
  };
}
