import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { civilDateAt } from '@chronicon/core/calendar';
import { metricBook, moneyMeasures } from '@chronicon/core/figures';
import { forgetUndo } from '../../facts/bulk.ts';
import type { StoredClient } from '../../store/clients.ts';
import { clientById } from '../../store/clients.ts';
import { feedById, type StoredFeed, updateFeed } from '../../store/feeds.ts';
import { importsOf, moveImport, type StoredImport } from '../../store/imports.ts';
import { record } from '../../store/ledger.ts';
import { inTransaction } from '../../store/store.ts';
import { tellOfFacts } from '../factsTold.ts';
import { fileSetupOf } from './fileSetup.ts';
import type { ImportJob, ImportNews } from './importJob.ts';

import type { ImportRoom } from './importRoom.ts';
import type { Loaded } from './load.ts';
import { doneAfter } from './undoable.ts';

/** Imports of a feed that can be taken back. */
const UNDOABLE = 10;

/** What a thread is told of a file that is imported: everything that reading it takes. */
function jobOf(
  { config, clock, pathOf }: ImportRoom,
  i: StoredImport,
  client: StoredClient,
  feed: StoredFeed,
  rejects: string,
): ImportJob {
  const { metrics } = metricBook(client.metrics);
  const counts = metrics.flatMap(({ aggregation: a, unit }) =>
    unit === 'count' && (a.kind === 'sum' || a.kind === 'level') ? [a.measure] : [],
  );
  return {
    kind: 'load',
    data: config.data,
    order: {
      importId: i.id,
      path: pathOf(i),
      rejects: join(config.data, rejects),
      reading: i.reading!,
      headerAt: i.looked!.inspection.headerAt,
      names: i.looked!.inspection.columns.map((c) => c.name),
      wide: i.looked!.inspection.wide ?? null,
      mapping: i.mapping!,
      counts,
      currency: client.currency,
      money: [...moneyMeasures(client.metrics)],
      weights: Object.fromEntries(
        metrics.flatMap(({ aggregation: a }) => (a.kind === 'weighted' ? [[a.measure, a.weight]] : [])),
      ),
      today: civilDateAt(clock.now(), client.zone),
      zone: client.zone,
      feed: { id: feed.id, clientId: client.id, name: feed.name, family: fileSetupOf(feed)?.family ?? '' },
      at: clock.now(),
    },
  };
}

/** Brings the figures of a file that was begun; its row tells how it goes, and what came of it. */
export async function loadImport(room: ImportRoom, i: StoredImport): Promise<void> {
  const { store, facts, clock, config, log, threads } = room;
  const feed = (await feedById(store, i.feedId!))!;
  const client = (await clientById(store, i.clientId))!;
  const rejects = join('imports', `${i.id}.rejects.csv`);
  const job = jobOf(room, i, client, feed, rejects);
  const tell = (news: ImportNews) => {
    if (news.kind !== 'progress') return;
    const { thousandths: progress, good, bad } = news.progress;
    moveImport(store, i.id, 'importing', { progress, good, bad }).catch((err) => log.error({ err }, 'no progress'));
  };
  try {
    const loaded = await room.inTurn(i.clientId, () => threads.run<Loaded>(i.id, job, tell));
    const { range, good, bad } = loaded;
    const kept = {
      range,
      good,
      bad,
      progress: 1000,
      rejects: loaded.hasRejects ? rejects : null,
      problem: null,
      unknown: loaded.unknown,
    };
    const at = clock.now();
    const doneAt = doneAfter(await importsOf(store, i.clientId), feed.id, at);
    const isDone = await inTransaction(store, async (tx) => {
      if (!(await moveImport(tx, i.id, 'importing', { ...kept, state: 'done', doneAt }))) return false;
      await updateFeed(tx, feed.id, { state: 'fresh', trouble: null, last_success: at });
      await tellOfFacts(tx, facts, i.clientId, at);
      await record(tx, {
        at,
        actor: i.madeBy ?? 'scheduler',
        action: 'import.done',
        subject: feed.id,
        detail: { file: i.fileName, good, bad, ...range },
      });
      return true;
    });
    if (!isDone) return;
    const old = (await importsOf(store, i.clientId)).filter((x) => x.feedId === feed.id && x.state === 'done');
    await forgetUndo(
      facts,
      old.slice(UNDOABLE).map((x) => x.id),
    );
  } catch (error) {
    if (room.isClosed()) return;
    const problem = room.words(error, i.id);
    const kept = existsSync(join(config.data, rejects)) ? rejects : null;
    const moved = await moveImport(store, i.id, 'importing', { state: 'refused', problem, rejects: kept });
    if (!moved || i.source === 'dropped') return;
    const trouble = `${i.fileName}: ${problem} Earlier imports are kept.`;
    await updateFeed(store, feed.id, { state: 'troubled', trouble });
  }
}
