import type { Session } from '../../access/sessions.ts';
import { type FactDb, openFactReader } from '../../facts/factStore.ts';
import type { Config } from '../../platform/config.ts';
import { readICalendar } from '../../platform/icalendar.ts';
import { atField, Refusal } from '../../platform/refusal.ts';
import { countingStatements } from '../../platform/statements.ts';
import { openStoreReader, type Store } from '../../store/store.ts';
import { allScheduleHandlers } from '../allSchedules.ts';
import { almanacHandlers } from '../almanac.ts';
import { calendarOf } from '../calendarLink.ts';
import { deskHandlers } from '../desk.ts';
import { lookAheadFile } from '../lookAheadFile.ts';
import type { Reading } from './reading.ts';
import type { ReadJob, ReadName, ReadResult } from './readJob.ts';

interface Room {
  data: string;
  store: Store;
  facts: FactDb;
}

let open: Room | null = null;
/** The folder that a read is of: of a server that is one of several of a process, another one than before perhaps. */
function roomOf(data: string): Room {
  if (open?.data === data) return open;
  open?.store.destroy().catch(() => undefined);
  open?.facts.destroy().catch(() => undefined);
  open = { data, store: openStoreReader(data), facts: openFactReader(data) };
  return open;
}

const json = (value: unknown): Uint8Array => Buffer.from(JSON.stringify(value));

/** What is asked of the handlers of routes, as the thread that answers requests would. */
const READS: Record<ReadName, (api: Reading, job: ReadJob) => Promise<Uint8Array>> = {
  'GET /api/desk': async (api, job) => json(await deskHandlers['GET /api/desk'](requestOf(api, job))),
  'GET /api/schedules': async (api, job) => json(await allScheduleHandlers['GET /api/schedules'](requestOf(api, job))),
  'GET /api/who-gets-what': async (api, job) =>
    json(await allScheduleHandlers['GET /api/who-gets-what'](requestOf(api, job))),
  'GET /api/almanac': async (api, job) => json(await almanacHandlers['GET /api/almanac'](requestOf(api, job))),
  'GET /api/look-ahead': async (api, job) => json(await almanacHandlers['GET /api/look-ahead'](requestOf(api, job))),
  'look-ahead.csv': async (api, { member, query }) => lookAheadFile(api, member, query as never),
  'calendar.ics': async (api, { member }) => Buffer.from(await calendarOf(api, member)),
  'calendar.read': async (_api, { query }) => {
    const { text, from } = query as { text: string; from: string };
    try {
      return json(readICalendar(text, from));
    } catch (error) {
      throw atField('text', (error as Error).message);
    }
  },
};

/** A request as handlers of reads see it: they look at who asks and at the query alone. */
function requestOf(api: Reading, { query, member }: ReadJob): never {
  const session = { member } as Session;
  return { api, query, params: {}, body: {}, session } as never;
}

export default async function run(job: ReadJob): Promise<ReadResult> {
  const { store, facts } = roomOf(job.data);
  const api: Reading = {
    store,
    facts,
    clock: { now: () => job.now } as Reading['clock'],
    config: { data: job.data } as Config,
    health: { troubles: () => job.troubles },
  };
  try {
    const { result, statements } = await countingStatements(() => READS[job.name](api, job));
    return { bytes: result, statements };
  } catch (error) {
    // What comes out of a thread has lost its class.
    if (!(error instanceof Refusal)) throw error;
    const { status, message, fields } = error;
    return { refused: { status, message, fields } };
  }
}
