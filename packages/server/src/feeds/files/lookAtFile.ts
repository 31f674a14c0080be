import type { Reading } from '@chronicon/core/contract';
import type { FileMapping, Inspection } from '@chronicon/core/feeds';
import { clientById } from '../../store/clients.ts';
import { feedById, feedsOf } from '../../store/feeds.ts';
import { importById, moveImport, type StoredImport } from '../../store/imports.ts';
import type { Store } from '../../store/store.ts';
import { fileSetupOf, hasColumns } from './fileSetup.ts';

import type { ImportRoom } from './importRoom.ts';
import type { FileLook } from './look.ts';

/** What was found out of a file, read as the files before it. */
const asBefore = (found: Inspection, mapping: FileMapping): Inspection => ({
  ...found,
  columns: found.columns.map((c) => ({ ...c, use: mapping.columns[c.name]! })),
  mapping,
  doubts: [],
});

/** The feed of files of a client whose files have the very same columns. */
async function feedLike(store: Store, clientId: string, { columns }: Inspection) {
  for (const feed of await feedsOf(store, clientId)) {
    const setup = fileSetupOf(feed);
    // The rows of another currency come with those of the client's own.
    if (setup && !setup.mapping.onlyCurrency && hasColumns(setup.mapping, columns)) return { id: feed.id, setup };
  }
  return null;
}

/** Looks at a file that was taken in, and keeps what was found out of it. @returns its import, which asks or was refused */
export async function lookAtFile(
  room: ImportRoom,
  id: string,
  chosen: Pick<Reading, 'encoding' | 'separator' | 'sheet'> | null,
): Promise<StoredImport> {
  const { store, threads } = room;
  const i = (await importById(store, id))!;
  const client = (await clientById(store, i.clientId))!;
  const feed = i.feedId ? await feedById(store, i.feedId) : null;
  const before = i.mapping ?? (feed ? (fileSetupOf(feed)?.mapping ?? null) : null);
  try {
    const ask = { chosen, hints: i.hints, before, zone: client.zone, currency: client.currency };
    const { reading, inspection, head } = await room.inTurn(i.clientId, () =>
      threads.run<FileLook>(id, { kind: 'look', path: room.pathOf(i), ask }),
    );
    const like = feed ? null : await feedLike(store, i.clientId, inspection);
    const known = like ? asBefore(inspection, like.setup.mapping) : inspection;
    await moveImport(store, id, 'looking', {
      state: 'asking',
      reading,
      looked: { inspection: known, head },
      mapping: known.mapping,
      problem: null,
      ...(like && { feedId: like.id }),
    });
  } catch (error) {
    if (!room.isClosed()) await moveImport(store, id, 'looking', { state: 'refused', problem: room.words(error, id) });
  }
  return (await importById(store, id))!;
}
