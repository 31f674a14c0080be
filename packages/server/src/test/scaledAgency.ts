import { addDays, addMinutes, type Rule } from '@chronicon/core/calendar';
import { PLAIN_CHOICES } from '@chronicon/core/contract';
import { documentFrom, type OrderSheet, periodCommentariesOf, settleDates } from '@chronicon/core/report';
import { wordsFor } from '@chronicon/core/words';
import { hashPassword } from '../access/passwords.ts';
import { type FactDb, replaceDays, saveDataset } from '../facts/factStore.ts';
import { createSchedule } from '../store/changeSchedule.ts';
import { createClient, type StoredClient, saveContact } from '../store/clients.ts';
import { createFeed } from '../store/feeds.ts';
import { idFrom, newId } from '../store/ids.ts';
import { agencyOf, createAgency, createMember } from '../store/members.ts';
import { createReport, releaseReport } from '../store/reports.ts';
import { inTransaction, type Store } from '../store/store.ts';

/** Who may sign in to a scaled agency. */
export const SCALED = { email: 'ines@fernglass.example', password: 'copper-kettle-17' };

const FIRST = ['Mosswick', 'Skerry', 'Quillon', 'Oatmere', 'Nightjar', 'Bracken', 'Tarnbeck', 'Lanthorn', 'Windle'];
const SECOND = ['Garden', 'Ferries', 'Cycles', 'Dairy', 'Holidays', 'Physio', 'Pottery', 'Books', 'Bakery', 'Tools'];
const nameOf = (i: number): string =>
  `${FIRST[i % FIRST.length]} ${SECOND[Math.floor(i / FIRST.length) % SECOND.length]} ${i + 1}`;

/** A week's and a month's rhythm, each at another time of the day. */
const RULES: readonly Rule[] = [
  { freq: 'weekly', every: 1, weekdays: [1] },
  { freq: 'monthly', every: 1, on: { workday: 2 } },
];

/** An instant of the past on which a client's edition was sent: one a week, back from now. */
const sentAt = (now: string, client: number, n: number): string =>
  addMinutes(now, -(n + 1) * 7 * 24 * 60 + (client % 240));

async function addEditions(tx: Store, client: StoredClient, ids: Ids, now: string, i: number, count: number) {
  const rows = Array.from({ length: count }, (_, n) => {
    const due = sentAt(now, i, n);
    const nominal = due.slice(0, 10);
    const { period, compared } = settleDates(ids.orders.period, ids.orders.comparison, nominal, client);
    return {
      id: idFrom('ed', `${client.id} ${n}`),
      number: count - n,
      client_id: client.id,
      report_id: ids.report,
      kind: 'scheduled' as const,
      schedule_id: ids.schedule,
      nominal,
      reader_group: '',
      revision: 1,
      title: ids.orders.title,
      order_sheet: JSON.stringify({ ...ids.orders, asOf: nominal }),
      period_from: period.from,
      period_to: period.to,
      compared_from: compared?.from ?? null,
      compared_to: compared?.to ?? null,
      state: 'sent' as const,
      reason: null,
      code: null,
      looked_at: null,
      stale: 0 as const,
      was_held: 0 as const,
      made_of: null,
      approval_id: null,
      due_at: due,
      next_at: null,
      frozen: null,
      pdf: null,
      made_by: null,
      created_at: due,
      lease_owner: null,
      lease_fence: 0,
    };
  });
  for (let at = 0; at < rows.length; at += 100) {
    await tx
      .insertInto('edition')
      .values(rows.slice(at, at + 100))
      .execute();
  }
}

interface Ids {
  report: string;
  schedule: string;
  orders: OrderSheet;
}

export interface ScaledSize {
  clients: number;
  /** Of each client. */
  schedules: number;
  editions: number;
}

async function addClient(tx: Store, facts: FactDb, managerId: string, size: ScaledSize, i: number, now: string) {
  const name = nameOf(i);
  const input = {
    name,
    site: '',
    zone: 'Europe/London',
    currency: 'GBP',
    language: 'en-GB',
    weekStart: 1,
    fiscalStart: 1,
    startDate: '2024-01-01',
  };
  const client = await createClient(tx, input, { managerId, at: now });
  const person = { firstName: 'Petra', lastName: `Lindqvist ${i + 1}`, email: `petra@client${i + 1}.example` };
  const contact = await saveContact(tx, client.id, person, now);
  const document = documentFrom('visits', wordsFor('en-GB'), () => newId('bl'));
  const title = i % 3 === 0 ? 'Visits week' : 'Monthly overview';
  const report = await createReport(tx, { clientId: client.id, title, document, at: now });
  await releaseReport(tx, { id: report.id, version: report.version, at: now, by: managerId });
  const words = { subject: '{{report.title}}: {{period.label}}', message: 'Hello {{contact.firstName}}.' };
  const spec = {
    period: { kind: 'unit' as const, unit: 'week' as const, offset: -1 },
    comparison: { kind: 'previous' as const },
  };
  let schedule = '';
  for (let n = 0; n < size.schedules; n++) {
    const made = await createSchedule(
      tx,
      client.id,
      {
        ...PLAIN_CHOICES,
        reportId: report.id,
        rule: RULES[n % RULES.length]!,
        time: `${String(9 + ((i + n) % 8)).padStart(2, '0')}:${String((i * 5) % 60).padStart(2, '0')}`,
        zone: 'Europe/London',
        firstDate: '2024-01-01',
        lastDate: null,
        readers: [{ contact: contact.id }],
        ...spec,
        ...words,
      },
      now,
    );
    schedule ||= made.id;
  }
  const orders: OrderSheet = { title, ...spec, asOf: '', readers: [{ contact: contact.id }], ...words };
  await addEditions(tx, client, { report: report.id, schedule, orders }, now, i, size.editions);
  // Nine of ten are written already for the week that is next.
  if (i % 10 > 0) {
    const runs = await tx.selectFrom('run').selectAll().where('client_id', '=', client.id).execute();
    const periods = new Map(runs.map((r) => [`${r.period_from} ${r.period_to}`, r]));
    const rows = periodCommentariesOf(document).flatMap((block_id) =>
      [...periods.values()].map((r) => ({
        report_id: report.id,
        block_id,
        first: r.period_from,
        last: r.period_to,
        draft: 'A quiet week.',
        released: 'A quiet week.',
        updated_at: now,
        updated_by: null,
      })),
    );
    if (rows.length > 0) await tx.insertInto('commentary').values(rows).execute();
  }
  const troubled = i % 50 === 7;
  const feed = await createFeed(tx, {
    clientId: client.id,
    kind: 'web-analytics',
    name: 'Website',
    account: `wa-${5000 + i}`,
    at: now,
    row: {
      next_sync: '9999-12-31T00:00:00.000Z',
      state: troubled ? 'troubled' : 'fresh',
      trouble: troubled ? 'The service does not answer.' : null,
      last_success: now,
    },
  });
  const spec2 = {
    key: 'visits',
    name: 'Website: visits',
    firstDay: '2024-01-01',
    dimensions: ['channel'],
    measures: ['visits'],
  };
  const owner = {
    feedId: feed.id,
    clientId: client.id,
    position: 0,
    feedName: feed.name,
    family: 'web-analytics.visits',
  };
  const dataset = await saveDataset(facts, owner, spec2);
  const yesterday = addDays(now.slice(0, 10), -1);
  const days = { from: addDays(yesterday, -6), to: yesterday };
  await replaceDays(facts, dataset, spec2, days, [{ day: yesterday, dims: ['Direct'], measures: [40 + i] }], now);
}

/** Clients that are written in one transaction. */
const AT_ONCE = 50;

/**
 * An agency of any size in the databases of a fresh data folder, without HTTP: clients each with a contact, a released
 * report, schedules with their runs, editions that were sent, a feed, and a week of figures.
 */
export async function scaledAgency(
  tools: { store: Store; facts: FactDb },
  size: ScaledSize,
  now: string,
  told: (done: number) => void = () => {},
): Promise<void> {
  const { store, facts } = tools;
  if (await agencyOf(store)) throw new Error('there is an agency in this folder already');
  await createAgency(store, {
    name: 'Fernglass Media',
    zone: 'Europe/London',
    mailFrom: 'reports@fernglass.example',
    holidays: ['2026-12-25', '2026-12-28'],
    workingDays: [1, 2, 3, 4, 5],
  });
  const password = await hashPassword(SCALED.password);
  const owner = await createMember(store, {
    name: 'Ines Tallow',
    email: SCALED.email,
    role: 'owner',
    password,
    at: now,
  });
  for (let from = 0; from < size.clients; from += AT_ONCE) {
    const until = Math.min(size.clients, from + AT_ONCE);
    await inTransaction(store, async (tx) => {
      for (let i = from; i < until; i++) await addClient(tx, facts, owner.id, size, i, now);
    });
    told(until);
  }
}
