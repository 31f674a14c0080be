import type { ComparisonSpec, PeriodSpec, Range } from '@chronicon/core/calendar';
import { type EditionState, mayFollow } from '@chronicon/core/edition';
import { type Selectable, sql } from 'kysely';
import { newId } from './ids.ts';
import { type Actor, record } from './ledger.ts';
import type { Tables } from './schema.ts';
import { inTransaction, type Store } from './store.ts';

export type EditionRow = Selectable<Tables['edition']>;

/** To whom an edition goes. A contact is looked up again when it is sent; a member gets tests. */
export type ReaderRef = { contact: string } | { member: string };

/** What an edition is made from, settled when it is planned. */
export interface OrderSheet {
  title: string;
  period: PeriodSpec;
  comparison: ComparisonSpec;
  asOf: string;
  readers: ReaderRef[];
  subject: string;
  message: string;
}

export interface NewEdition {
  clientId: string;
  reportId: string;
  kind: EditionRow['kind'];
  scheduleId: string | null;
  nominal: string | null;
  orders: OrderSheet;
  dates: { period: Range; compared: Range | null } | null;
  state: EditionState;
  reason: string | null;
  dueAt: string;
  nextAt: string | null;
  madeBy: string | null;
  at: string;
}

/**
 * Adds an edition with its ledger entry. Null when one of the same identity exists: schedule, unmoved date,
 * reader group and revision are unique in the table itself, whatever two processes do.
 */
export async function addEdition(db: Store, e: NewEdition): Promise<string | null> {
  return inTransaction(db, async (tx) => {
    const id = newId('ed');
    const result = await tx
      .insertInto('edition')
      .values({
        id,
        number: null,
        client_id: e.clientId,
        report_id: e.reportId,
        kind: e.kind,
        schedule_id: e.scheduleId,
        nominal: e.nominal,
        reader_group: '',
        revision: 1,
        title: e.orders.title,
        order_sheet: JSON.stringify(e.orders),
        period_from: e.dates?.period.from ?? null,
        period_to: e.dates?.period.to ?? null,
        compared_from: e.dates?.compared?.from ?? null,
        compared_to: e.dates?.compared?.to ?? null,
        state: e.state,
        reason: e.reason,
        due_at: e.dueAt,
        next_at: e.nextAt,
        frozen: null,
        pdf: null,
        made_by: e.madeBy,
        created_at: e.at,
        lease_owner: null,
        lease_until: null,
      })
      .onConflict((c) => c.columns(['schedule_id', 'nominal', 'reader_group', 'revision']).doNothing())
      .executeTakeFirst();
    if (result.numInsertedOrUpdatedRows !== 1n) return null;
    await record(tx, {
      at: e.at,
      actor: e.madeBy ?? 'clockwork',
      action: `edition.${e.state}`,
      subject: id,
      ...(e.reason && { detail: { reason: e.reason } }),
    });
    return id;
  });
}

export async function editionById(db: Store, id: string): Promise<EditionRow | null> {
  return (await db.selectFrom('edition').selectAll().where('id', '=', id).executeTakeFirst()) ?? null;
}

export const ordersOf = (e: EditionRow): OrderSheet => JSON.parse(e.order_sheet) as OrderSheet;

/**
 * Moves an edition from the state it was read in to another, with its ledger entry, in one transaction.
 * False when it had moved meanwhile.
 * @throws Error when the one may not follow the other
 */
export async function moveEdition(
  db: Store,
  edition: Pick<EditionRow, 'id' | 'state'>,
  to: EditionState,
  patch: Partial<Pick<EditionRow, 'reason' | 'next_at' | 'frozen' | 'pdf' | 'due_at'>>,
  by: { at: string; actor: Actor },
): Promise<boolean> {
  if (!mayFollow(edition.state, to)) throw new Error(`an edition does not go from ${edition.state} to ${to}`);
  return inTransaction(db, async (tx) => {
    const result = await tx
      .updateTable('edition')
      .set({ state: to, reason: null, ...patch })
      .where('id', '=', edition.id)
      .where('state', '=', edition.state)
      .executeTakeFirst();
    if (result.numUpdatedRows !== 1n) return false;
    if (to === 'cleared' && patch.pdf) await number(tx, edition.id);
    await record(tx, {
      ...by,
      action: `edition.${to}`,
      subject: edition.id,
      ...(patch.reason && { detail: { reason: patch.reason } }),
    });
    return true;
  });
}

/** Gives an edition its client's next number, once. Tests are not counted. */
async function number(tx: Store, id: string): Promise<void> {
  await tx
    .updateTable('edition')
    .set({
      number: sql<number>`(select coalesce(max(e.number), 0) + 1 from edition e where e.client_id = edition.client_id)`,
    })
    .where('id', '=', id)
    .where('number', 'is', null)
    .where('kind', '!=', 'test')
    .execute();
}

export async function postpone(db: Store, id: string, nextAt: string | null, reason: string | null): Promise<void> {
  await db.updateTable('edition').set({ next_at: nextAt, reason }).where('id', '=', id).execute();
}

/** Takes the work on an edition for a while; null when another holds it. Leases run on the machine's own time. */
export async function takeLease(
  db: Store,
  id: string,
  lease: { owner: string; now: string; until: string },
): Promise<EditionRow | null> {
  const row = await db
    .updateTable('edition')
    .set({ lease_owner: lease.owner, lease_until: lease.until })
    .where('id', '=', id)
    .where((w) =>
      w.or([w('lease_owner', 'is', null), w('lease_owner', '=', lease.owner), w('lease_until', '<', lease.now)]),
    )
    .returningAll()
    .executeTakeFirst();
  return row ?? null;
}

export async function releaseLease(db: Store, id: string, owner: string): Promise<void> {
  await db
    .updateTable('edition')
    .set({ lease_owner: null, lease_until: null })
    .where('id', '=', id)
    .where('lease_owner', '=', owner)
    .execute();
}

/** Who holds leases at present. */
export async function leaseOwners(db: Store): Promise<string[]> {
  const rows = await db
    .selectFrom('edition')
    .select('lease_owner')
    .distinct()
    .where('lease_owner', 'is not', null)
    .execute();
  return rows.map((r) => r.lease_owner!);
}

export async function releaseLeasesOf(db: Store, owner: string): Promise<void> {
  await db
    .updateTable('edition')
    .set({ lease_owner: null, lease_until: null })
    .where('lease_owner', '=', owner)
    .execute();
}

/** Editions that want looking at by `now`, the most urgent first. */
export async function editionsDue(db: Store, now: string): Promise<EditionRow[]> {
  return db
    .selectFrom('edition')
    .selectAll()
    .where('next_at', 'is not', null)
    .where('next_at', '<=', now)
    .orderBy('due_at')
    .orderBy('id')
    .execute();
}

/** A schedule's editions that exist but have not begun to be sent. */
export async function unsentOf(db: Store, scheduleId: string): Promise<EditionRow[]> {
  return db
    .selectFrom('edition')
    .selectAll()
    .where('schedule_id', '=', scheduleId)
    .where('state', 'in', ['planned', 'gathering', 'cleared'])
    .execute();
}

export interface EditionFilter {
  clientIds: string[];
  state?: EditionState | undefined;
  text?: string | undefined;
  dueFrom?: string;
  dueTo?: string;
}

function filtered(db: Store, f: EditionFilter) {
  let query = db.selectFrom('edition').where('edition.client_id', 'in', f.clientIds);
  if (f.state) query = query.where('edition.state', '=', f.state);
  if (f.dueFrom) query = query.where('edition.due_at', '>=', f.dueFrom);
  if (f.dueTo) query = query.where('edition.due_at', '<', f.dueTo);
  if (f.text) {
    const like = `%${f.text.replace(/[\\%_]/g, (c) => `\\${c}`)}%`;
    query = query.where((w) =>
      w.or([
        sql<boolean>`edition.title like ${like} escape '\\'`,
        w('edition.client_id', 'in', (q) =>
          q.selectFrom('client').select('id').where(sql<boolean>`name like ${like} escape '\\'`),
        ),
      ]),
    );
  }
  return query;
}

export async function findEditions(
  db: Store,
  filter: EditionFilter,
  page: { offset: number; limit: number },
): Promise<{ rows: EditionRow[]; total: number }> {
  if (filter.clientIds.length === 0) return { rows: [], total: 0 };
  const rows = await filtered(db, filter)
    .selectAll('edition')
    .orderBy('due_at', 'desc')
    .orderBy('created_at', 'desc')
    .offset(page.offset)
    .limit(page.limit)
    .execute();
  const { n } = await filtered(db, filter)
    .select((s) => s.fn.countAll<number>().as('n'))
    .executeTakeFirstOrThrow();
  return { rows, total: n };
}
