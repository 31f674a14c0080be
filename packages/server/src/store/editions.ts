import { MOST_COUNTED } from '@chronicon/core/bounds';
import type { Range } from '@chronicon/core/calendar';
import { type EditionState, FOLLOWING, type HoldCode, IS_NEWS, identityText, mayFollow } from '@chronicon/core/edition';
import { type OrderSheet, readOrderSheet } from '@chronicon/core/report';
import { type Selectable, sql } from 'kysely';
import { among } from './among.ts';
import { idFrom, newId } from './ids.ts';
import { type Instance, isFree, type Lease } from './instances.ts';
import { type Actor, record } from './ledger.ts';
import { hasText } from './like.ts';
import { readOnce } from './parsed.ts';
import type { Tables } from './schema.ts';
import { inTransaction, type Store } from './store.ts';
import { seenIn, type Visibility } from './visibility.ts';

export type EditionRow = Selectable<Tables['edition']>;

export interface NewEdition {
  clientId: string;
  reportId: string;
  kind: EditionRow['kind'];
  scheduleId: string | null;
  nominal: string | null;
  /** The group of readers that it is for; left out where there are none. */
  readerGroup?: string;
  orders: OrderSheet;
  dates: { period: Range; compared: Range | null } | null;
  state: EditionState;
  reason: string | null;
  code?: HoldCode;
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
    const { scheduleId, nominal, readerGroup = '' } = e;
    // The same run has the same id in a restored copy, and its mails the same Message-IDs.
    const id =
      scheduleId !== null && nominal !== null
        ? idFrom('ed', identityText({ scheduleId, nominal, readerGroup, revision: 1 }))
        : newId('ed');
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
        reader_group: readerGroup,
        revision: 1,
        title: e.orders.title,
        order_sheet: JSON.stringify(e.orders),
        period_from: e.dates?.period.from ?? null,
        period_to: e.dates?.period.to ?? null,
        compared_from: e.dates?.compared?.from ?? null,
        compared_to: e.dates?.compared?.to ?? null,
        state: e.state,
        reason: e.reason,
        code: e.code ?? null,
        looked_at: null,
        stale: 0,
        was_held: 0,
        made_of: null,
        approval_id: null,
        due_at: e.dueAt,
        next_at: e.nextAt,
        frozen: null,
        pdf: null,
        made_by: e.madeBy,
        created_at: e.at,
        lease_owner: null,
        lease_fence: 0,
      })
      .onConflict((c) => c.doNothing())
      .executeTakeFirst();
    if (result.numInsertedOrUpdatedRows !== 1n) return null;
    await record(tx, {
      at: e.at,
      actor: e.madeBy ?? 'scheduler',
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

/** Of some hundred editions: those of a Desk, and those on their way. */
const sheetIn = readOnce<OrderSheet>(500_000, readOrderSheet);

export const ordersOf = (e: EditionRow): OrderSheet => sheetIn(e.order_sheet, `the order sheet of ${e.id}`);

/** Who moves an edition, and when; with the number of the lease where the work was done under one. */
export interface By {
  at: string;
  actor: Actor;
  lease?: Lease | undefined;
}

type EditionPatch = Partial<
  Pick<
    EditionRow,
    | 'reason'
    | 'code'
    | 'looked_at'
    | 'next_at'
    | 'frozen'
    | 'pdf'
    | 'due_at'
    | 'stale'
    | 'was_held'
    | 'made_of'
    | 'approval_id'
    | 'mail_note'
    | 'title'
    | 'order_sheet'
    | 'period_from'
    | 'period_to'
    | 'compared_from'
    | 'compared_to'
  >
>;

/** The row itself, or nothing where the lease was lost, or the edition moved on meanwhile. */
function stillHeld(tx: Store, edition: Pick<EditionRow, 'id' | 'state'>, lease: Lease | undefined) {
  const query = tx.updateTable('edition').where('id', '=', edition.id).where('state', '=', edition.state);
  return lease ? query.where('lease_owner', '=', lease.owner).where('lease_fence', '=', lease.fence) : query;
}

/**
 * Moves an edition from the state it was read in to another, with its ledger entry, in one transaction. False when it
 * had moved meanwhile, or somebody else had taken the work up. A hold remembers that it was one: `was_held`.
 * @throws Error when the one may not follow the other
 */
export async function moveEdition(
  db: Store,
  edition: Pick<EditionRow, 'id' | 'state'>,
  to: EditionState,
  patch: EditionPatch,
  by: By,
): Promise<boolean> {
  if (!mayFollow(edition.state, to)) throw new Error(`an edition does not go from ${edition.state} to ${to}`);
  return inTransaction(db, async (tx) => {
    const result = await stillHeld(tx, edition, by.lease)
      .set((q) => ({
        state: to,
        reason: null,
        code: null,
        ...(to === 'held' && { was_held: 1 as const }),
        // What went out stays so, whatever is tried again.
        ...((to === 'sent' || to === 'part-sent') && { sent_at: q.fn.coalesce('sent_at', q.val(by.at)) }),
        ...patch,
      }))
      .executeTakeFirst();
    if (result.numUpdatedRows !== 1n) return false;
    if (patch.pdf) await number(tx, edition.id);
    await record(tx, {
      at: by.at,
      actor: by.actor,
      action: `edition.${to}`,
      subject: edition.id,
      ...(patch.reason && { detail: { reason: patch.reason } }),
    });
    return true;
  });
}

/** Changes an edition within its state; false when it had moved meanwhile, or the lease was lost. */
export async function patchEdition(
  db: Store,
  edition: Pick<EditionRow, 'id' | 'state'>,
  patch: EditionPatch,
  lease?: Lease,
): Promise<boolean> {
  const result = await stillHeld(db, edition, lease).set(patch).executeTakeFirst();
  return result.numUpdatedRows === 1n;
}

/** Has those that wait for a person to look at an odd day looked at anew: what is to be done about it has changed. */
export async function markHeldForOddDays(tx: Store, at: string): Promise<void> {
  const held = tx.updateTable('edition').where('state', '=', 'held').where('code', '=', 'odd-day');
  await held.set({ stale: 1, next_at: at }).execute();
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

/** Takes up the work on an edition: its row with the new number; null when somebody who is alive holds it. */
export async function takeEdition(db: Store, id: string, self: Instance): Promise<EditionRow | null> {
  const row = await db
    .updateTable('edition')
    .set((q) => ({ lease_owner: self.id, lease_fence: q('lease_fence', '+', 1) }))
    .where('id', '=', id)
    .where(isFree('edition', self))
    .returningAll()
    .executeTakeFirst();
  return row ?? null;
}

export async function releaseEdition(db: Store, id: string, lease: Lease): Promise<void> {
  await db
    .updateTable('edition')
    .set({ lease_owner: null })
    .where('id', '=', id)
    .where('lease_owner', '=', lease.owner)
    .where('lease_fence', '=', lease.fence)
    .execute();
}

/**
 * Editions that want looking at by `now` and that no other server is at work on, the most urgent first.
 * @param drawn those that are to become mails; else those that are to be drawn, or looked at
 */
export async function editionsDue(
  db: Store,
  now: string,
  self: Instance,
  drawn: boolean,
  limit: number,
): Promise<{ id: string }[]> {
  return db
    .selectFrom('edition')
    .select('id')
    .where('next_at', 'is not', null)
    .where('next_at', '<=', now)
    .where((q) => {
      const isDrawn = q.and([q('state', '=', 'ready'), q('stale', '=', 0)]);
      return drawn ? isDrawn : q.not(isDrawn);
    })
    .where(isFree('edition', self))
    .orderBy('due_at')
    .orderBy('id')
    .limit(limit)
    .execute();
}

/** A schedule's editions that are not on their way yet and may still change. */
export async function unsentOf(db: Store, scheduleId: string): Promise<EditionRow[]> {
  return db
    .selectFrom('edition')
    .selectAll()
    .where('schedule_id', '=', scheduleId)
    .where('state', 'in', FOLLOWING)
    .orderBy('due_at')
    .execute();
}

/** Unmoved dates of a schedule of which an edition, of whatever group, is more than planned and was not left out. */
export async function begunOf(db: Store, scheduleId: string): Promise<Set<string>> {
  const rows = await db
    .selectFrom('edition')
    .select('nominal')
    .distinct()
    .where('schedule_id', '=', scheduleId)
    .where('state', 'not in', ['planned', 'skipped'])
    .execute();
  return new Set(rows.flatMap((r) => r.nominal ?? []));
}

/** A schedule's editions that were left out for a reason. */
export async function leftOutOf(db: Store, scheduleId: string, code: HoldCode): Promise<EditionRow[]> {
  return db
    .selectFrom('edition')
    .selectAll()
    .where('schedule_id', '=', scheduleId)
    .where('state', '=', 'skipped')
    .where('code', '=', code)
    .execute();
}

/** The editions of a schedule's run, one for each group of its readers. */
export async function editionsOfRun(db: Store, scheduleId: string, nominal: string): Promise<EditionRow[]> {
  return db
    .selectFrom('edition')
    .selectAll()
    .where('schedule_id', '=', scheduleId)
    .where('nominal', '=', nominal)
    .execute();
}

/** Editions of these clients that wait for a person, soonest first. */
export async function editionsHeldOf(db: Store, clientIds: readonly string[]): Promise<EditionRow[]> {
  if (clientIds.length === 0) return [];
  return db
    .selectFrom('edition')
    .selectAll()
    .where('client_id', 'in', clientIds)
    .where('state', '=', 'held')
    .orderBy('due_at')
    .execute();
}

/** Editions whose time passed before `before` and that have not gone, or not to everybody; tests left out. */
export async function editionsLate(db: Store, before: string, since: string): Promise<EditionRow[]> {
  return db
    .selectFrom('edition')
    .selectAll()
    .where('due_at', '>=', since)
    .where('kind', '!=', 'test')
    .where((w) =>
      w.or([
        w('state', 'in', ['held', 'part-sent']),
        w.and([w('state', 'in', ['collecting', 'ready', 'sending']), w('due_at', '<', before)]),
      ]),
    )
    .where((w) => w.or([w('state', '!=', 'ready'), w('next_at', 'is not', null)]))
    .orderBy('due_at')
    .limit(2_000)
    .execute();
}

/** Editions of a schedule whose mails are being handed over. */
export const editionsOnTheirWay = (db: Store, scheduleId: string): Promise<EditionRow[]> =>
  db
    .selectFrom('edition')
    .selectAll()
    .where('schedule_id', '=', scheduleId)
    .where('state', '=', 'sending')
    .orderBy('due_at')
    .execute();

/**
 * Editions that have not gone and that may go at once, or when a person says so: those due by `now`, those on their way,
 * and those that were let go. Of a copy, another server may have sent any of them, whenever they fell due.
 */
export async function unsettled(db: Store, now: string): Promise<EditionRow[]> {
  return db
    .selectFrom('edition')
    .selectAll()
    .where('kind', '!=', 'test')
    .where('state', 'in', [...FOLLOWING, 'sending'])
    .where((q) => q.or([q('due_at', '<=', now), q('state', '=', 'sending'), q('approval_id', 'is not', null)]))
    .orderBy('due_at')
    .orderBy('id')
    .execute();
}

/**
 * When the longest overdue edition was due that should have been moved on by `before` and was not; null when there is none.
 * What waits for a person, for data or for a mail server is none: that is told elsewhere.
 */
export async function overdueSince(db: Store, before: string): Promise<string | null> {
  const row = await db
    .selectFrom('edition')
    .select((q) => q.fn.min('due_at').as('at'))
    .where('kind', '=', 'scheduled')
    .where('due_at', '<', before)
    .where('next_at', '<', before)
    .where('state', 'in', ['planned', 'collecting', 'ready'])
    .executeTakeFirst();
  return row?.at ?? null;
}

/**
 * Visible editions that want a person, or wait for something, and runs left out by the rule since `since`; tests left out.
 * @param stopped whether nothing is sent at present: then all that are on their way are among them
 */
export async function editionsToSee(
  db: Store,
  visibility: Visibility,
  since: string,
  stopped: boolean,
): Promise<EditionRow[]> {
  return db
    .selectFrom('edition')
    .selectAll()
    .where(seenIn(visibility, 'edition.client_id'))
    .where('kind', '!=', 'test')
    .where((w) => {
      const onTheWay = w('state', 'in', ['collecting', 'sending']);
      return w.or([
        w('state', 'in', ['review', 'held', 'part-sent']),
        // Of a thousand that are on their way, only those that wait for something are read.
        stopped ? onTheWay : w.and([onTheWay, w('reason', 'is not', null)]),
        ...(stopped ? [w.and([w('state', '=', 'ready'), w('next_at', 'is not', null)])] : []),
        w.and([w('state', '=', 'skipped'), w('code', 'in', IS_NEWS), w('due_at', '>=', since)]),
      ]);
    })
    .orderBy('due_at')
    .limit(2_000)
    .execute();
}

/** A report's editions that are due after `since`, or are not on their way yet. */
export async function editionsOfReport(db: Store, reportId: string, since: string): Promise<EditionRow[]> {
  return db
    .selectFrom('edition')
    .selectAll()
    .where('report_id', '=', reportId)
    .where((w) => w.or([w('due_at', '>=', since), w('state', 'in', FOLLOWING)]))
    .orderBy('due_at', 'desc')
    .limit(200)
    .execute();
}

/** The latest run of a schedule that was made, sent or not, whatever became of it but being left out. */
export async function lastMadeOf(db: Store, scheduleId: string, before: string): Promise<EditionRow | null> {
  const row = await db
    .selectFrom('edition')
    .selectAll()
    .where('schedule_id', '=', scheduleId)
    .where('nominal', '<', before)
    .where('state', '!=', 'skipped')
    .orderBy('nominal', 'desc')
    .limit(1)
    .executeTakeFirst();
  return row ?? null;
}

export interface EditionFilter {
  visibility: Visibility;
  /** Tests stand apart from what is sent: left out unless they are asked for, alone. */
  tests?: boolean | undefined;
  state?: EditionState | undefined;
  text?: string | undefined;
  dueFrom?: string;
  dueTo?: string;
}

function filtered(db: Store, f: EditionFilter) {
  let query = db.selectFrom('edition').where(seenIn(f.visibility, 'edition.client_id'));
  query = query.where('edition.kind', f.tests ? '=' : '!=', 'test');
  if (f.state) query = query.where('edition.state', '=', f.state);
  if (f.dueFrom) query = query.where('edition.due_at', '>=', f.dueFrom);
  if (f.dueTo) query = query.where('edition.due_at', '<', f.dueTo);
  if (f.text) {
    const { text } = f;
    query = query.where((w) =>
      w.or([
        hasText('edition.title', text),
        w('edition.client_id', 'in', (q) => q.selectFrom('client').select('id').where(hasText('name', text))),
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
  const rows = await filtered(db, filter)
    .selectAll('edition')
    .orderBy('due_at', 'desc')
    .orderBy('created_at', 'desc')
    .offset(page.offset)
    .limit(page.limit)
    .execute();
  // An agency has hundreds of thousands in time: nobody waits until all of them are counted.
  const { n } = await db
    .selectFrom(
      filtered(db, filter)
        .select('edition.id')
        .limit(MOST_COUNTED + 1)
        .as('found'),
    )
    .select((s) => s.fn.countAll<number>().as('n'))
    .executeTakeFirstOrThrow();
  return { rows, total: n };
}

/** When editions are due, and how they stand: enough to choose those that are shown. The latest first. */
export async function editionTimes(
  db: Store,
  filter: EditionFilter,
  limit: number,
): Promise<Pick<EditionRow, 'id' | 'due_at' | 'state'>[]> {
  return filtered(db, filter)
    .select(['edition.id', 'edition.due_at', 'edition.state'])
    .orderBy('due_at', 'desc')
    .orderBy('created_at', 'desc')
    .limit(limit)
    .execute();
}

/** Editions by their ids, those that there are. */
export async function editionsByIds(db: Store, ids: readonly string[]): Promise<Map<string, EditionRow>> {
  const rows = await db.selectFrom('edition').selectAll().where(among('edition.id', ids)).execute();
  return new Map(rows.map((e) => [e.id, e]));
}

/** When something last went out to each of these clients. */
export async function lastSentOf(db: Store, clientIds: readonly string[]): Promise<Map<string, string>> {
  if (clientIds.length === 0) return new Map();
  const rows = await db
    .selectFrom('edition')
    .select((s) => ['client_id', s.fn.max<string>(s.fn.coalesce('sent_at', 'due_at')).as('at')])
    .where('client_id', 'in', clientIds)
    .where('state', '=', 'sent')
    .where('kind', '!=', 'test')
    .groupBy('client_id')
    .execute();
  return new Map(rows.map((r) => [r.client_id, r.at]));
}
