import { gzipSync } from 'node:zlib';
import { type FactDb, openFactReader } from '../../facts/factStore.ts';
import { readICalendar } from '../../platform/icalendar.ts';
import { atField, Refusal } from '../../platform/refusal.ts';
import { countingStatements } from '../../platform/statements.ts';
import { faultOf } from '../../store/faults.ts';
import { openStoreReader, type Store } from '../../store/store.ts';
import { allScheduleHandlers } from '../allSchedules.ts';
import { almanacHandlers } from '../almanac.ts';
import { calendarOf } from '../calendarLink.ts';
import { deskHandlers } from '../desk.ts';
import { lookAheadFile } from '../lookAheadFile.ts';
import { memberReadHandlers } from '../memberRows.ts';
import { followedOf, followingOf } from '../templateFollowing.ts';
import type { ReadHandlers, Reading, ReadRequest } from './reading.ts';
import type { ReadJob, ReadResult, ReadRoute } from './readJob.ts';

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

const ROUTES: ReadHandlers<ReadRoute> = {
  ...deskHandlers,
  ...allScheduleHandlers,
  ...almanacHandlers,
  ...memberReadHandlers,
};

async function read(api: Reading, { name, query, member }: ReadJob): Promise<Uint8Array> {
  switch (name) {
    case 'look-ahead.csv':
      return gzipSync(await lookAheadFile(api, member, query as never));
    case 'calendar.ics':
      return Buffer.from(await calendarOf(api, member));
    case 'calendar.read': {
      const { text, from } = query as { text: string; from: string };
      try {
        return json(readICalendar(text, from));
      } catch (error) {
        throw atField('text', (error as Error).message);
      }
    }
    case 'template.following':
      return json(await followingOf(api, { member }, query as never));
    case 'template.followed':
      return json(await followedOf(api, query as never));
    default: {
      // Its query was read by the route's own schema.
      const handle = ROUTES[name] as (request: ReadRequest<ReadRoute>) => Promise<unknown>;
      return json(await handle({ api, query: query as never, session: { member } }));
    }
  }
}

export default async function run(job: ReadJob): Promise<ReadResult> {
  const { store, facts } = roomOf(job.data);
  const api: Reading = {
    store,
    facts,
    clock: { now: () => job.now },
    health: { troubles: () => job.troubles },
  };
  try {
    const { result, statements } = await countingStatements(() => read(api, job));
    return { bytes: result, statements };
  } catch (error) {
    // What comes out of a thread has lost its class, and its code.
    if (error instanceof Refusal) {
      const { status, message, fields } = error;
      return { refused: { status, message, fields } };
    }
    const { code, message } = error as { code?: unknown; message: string };
    if (faultOf(error)) return { broken: { code: String(code), message } };
    throw error;
  }
}
