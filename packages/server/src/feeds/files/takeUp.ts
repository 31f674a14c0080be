import { currencyFault, mappingFault } from '@chronicon/core/feeds';
import { moneyMeasures } from '@chronicon/core/figures';
import { clientById } from '../../store/clients.ts';
import { feedById, updateFeed } from '../../store/feeds.ts';
import { importById, type StoredImport } from '../../store/imports.ts';
import type { Store } from '../../store/store.ts';
import { fileSetupOf, hasColumns } from './fileSetup.ts';
import type { ImportRoom } from './importRoom.ts';

/** Whether a file can be imported with nobody looking: its feed knows every column, and nothing is in doubt. */
async function knowsAll(store: Store, i: StoredImport): Promise<boolean> {
  const feed = i.feedId ? await feedById(store, i.feedId) : null;
  const setup = feed && fileSetupOf(feed);
  if (!setup || !i.looked || i.state !== 'asking') return false;
  const { columns, doubts } = i.looked.inspection;
  if (!hasColumns(setup.mapping, columns) || doubts.length > 0 || mappingFault(i.mapping!) !== null) return false;
  const client = (await clientById(store, i.clientId))!;
  const money = moneyMeasures(client.metrics);
  return currencyFault(columns, i.mapping!, client.currency, (key) => money.has(key)) === null;
}

/** Imports a file that was looked at with nobody looking, or says at its feed why it waits. */
export async function takeUp(
  { store }: Pick<ImportRoom, 'store'>,
  i: StoredImport,
  begin: (id: string) => Promise<void>,
): Promise<StoredImport> {
  if (i.source === 'dropped') return i;
  const feed = i.feedId ? await feedById(store, i.feedId) : null;
  if (await knowsAll(store, i)) {
    await begin(i.id);
  } else if (feed) {
    const why = i.problem ?? 'its columns differ from earlier files, or something needs confirming.';
    await updateFeed(store, feed.id, { state: 'troubled', trouble: `${i.fileName} needs review: ${why}` });
  }
  return (await importById(store, i.id))!;
}
