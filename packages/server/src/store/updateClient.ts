import type { ClientInput } from '@chronicon/core/contract';
import { changeClient, columnsOfClient } from './clients.ts';
import { makeRunsOf } from './runs.ts';
import { schedulesOf } from './schedules.ts';
import { inTransaction, type Store } from './store.ts';

/** Changes a client; its editions that are not on their way follow, and the runs of its schedules are made anew. */
export const updateClient = (db: Store, id: string, input: ClientInput, at: string): Promise<void> =>
  inTransaction(db, async (tx) => {
    await changeClient(tx, id, columnsOfClient(input), at);
    for (const { id: schedule } of await schedulesOf(tx, id)) await makeRunsOf(tx, schedule, at);
  });
