import { wallClock } from '@chronicon/core/calendar';
import { GUARD_WORDS } from '@chronicon/core/client';
import { type Edition, type Review, type RouteName, STATE_LABELS } from '@chronicon/core/contract';
import { MAY_BE_SENT } from '@chronicon/core/edition';
import { readFrozen, remarksOf } from '@chronicon/core/page';
import { formatterOf } from '@chronicon/core/words';
import { Refusal } from '../platform/refusal.ts';
import { addresseesOf } from '../scheduler/addressees.ts';
import { approvedHashes, composeMails, isSameBasis, mailBasis, reviewHash } from '../scheduler/mails.ts';
import { madeOfNow, settle } from '../scheduler/orders.ts';
import { settleEdition } from '../scheduler/settleEdition.ts';
import { asksUntil } from '../scheduler/signingOff.ts';
import { keepApproval, takeBackApproval } from '../store/approvals.ts';
import { clientById, clientsByIds, contactNames, type StoredClient } from '../store/clients.ts';
import { type EditionRow, findEditions, moveEdition, ordersOf, patchEdition } from '../store/editions.ts';
import { NEVER } from '../store/feeds.ts';
import { forgetHeads } from '../store/mailHead.ts';
import { agencyOf, type Member, memberById, memberNames } from '../store/members.ts';
import { deliveriesOf, moveDelivery, type NewMessage } from '../store/messages.ts';
import { schedulesByIds } from '../store/schedules.ts';
import { inTransaction, type Store } from '../store/store.ts';
import { theEdition } from './access.ts';
import type { Api, Handlers } from './context.ts';
import type { MailRoute } from './mails.ts';
import { checkWorking } from './working.ts';

const PAGE_SIZE = 25;
const MAY_BE_LEFT_OUT = ['planned', 'collecting', 'review', 'ready', 'held'];

/** Names of those whom an edition is for, as they are called now. */
/** To whom editions go, by name, in a few statements however many they are. */
async function readerNames(db: Store, rows: readonly EditionRow[]): Promise<Map<string, string[]>> {
  const contacts = await contactNames(db, [...new Set(rows.map((e) => e.client_id))]);
  const members = await memberNames(db);
  return new Map(
    rows.map((e) => [
      e.id,
      ordersOf(e).readers.flatMap((r) =>
        'member' in r ? (members.get(r.member) ?? []) : (contacts.get(r.contact) ?? 'a removed contact'),
      ),
    ]),
  );
}

/** A person may send what is drawn and waits for one, and has readers. */
const maySend = (e: EditionRow): boolean =>
  e.pdf !== null && (e.state === 'review' || (e.state === 'held' && e.code !== null && MAY_BE_SENT.includes(e.code)));

/** A sign-off can be taken back until the edition is on its way. */
const mayTakeBack = (e: EditionRow): boolean => e.state === 'ready' && e.approval_id !== null && e.next_at !== null;

const mayRetry = (e: EditionRow): boolean =>
  e.state === 'part-sent' || (e.state === 'held' && !maySend(e) && e.code !== 'paused');

async function describe({ store: db, clock }: Pick<Api, 'store' | 'clock'>, rows: EditionRow[]): Promise<Edition[]> {
  const now = clock.now();
  const deliveries = await deliveriesOf(
    db,
    rows.map((r) => r.id),
  );
  const readers = await readerNames(db, rows);
  const clients = await clientsByIds(db, [...new Set(rows.map((r) => r.client_id))]);
  const schedules = await schedulesByIds(
    db,
    rows.flatMap((r) => r.schedule_id ?? []),
  );
  const members = await memberNames(db);
  return rows.map((e) => {
    const schedule = e.schedule_id === null ? null : schedules.get(e.schedule_id)!;
    const { signOff } = schedule ?? { signOff: { rule: 'none' as const } };
    const client = clients.get(e.client_id)!;
    const english = formatterOf('en-GB', client.currency);
    const named = (from: string | null, to: string | null) =>
      from && to ? { from, to, label: english.range({ from, to }) } : null;
    return {
      id: e.id,
      number: e.number,
      clientId: client.id,
      clientName: client.name,
      colour: client.colour,
      title: e.title,
      kind: e.kind,
      period: named(e.period_from, e.period_to),
      compared: named(e.compared_from, e.compared_to),
      state: e.state,
      reason: e.reason,
      lookedAt: e.looked_at,
      dueAt: e.due_at,
      sentAt: e.sent_at,
      goesIn: mayTakeBack(e) ? Math.max(0, Math.ceil((Date.parse(e.next_at!) - Date.parse(now)) / 1_000)) : null,
      local: wallClock(e.due_at, client.zone),
      zone: client.zone,
      may: {
        send: maySend(e),
        retry: mayRetry(e),
        skip: MAY_BE_LEFT_OUT.includes(e.state),
        takeUp: e.state === 'skipped' && e.kind !== 'test',
        takeBack: mayTakeBack(e),
      },
      group: ordersOf(e).group ?? null,
      asks:
        schedule && signOff.rule !== 'none' && ['planned', 'collecting', 'review'].includes(e.state)
          ? { who: members.get(signOff.asks ?? client.managerId) ?? '', until: asksUntil(schedule, e) }
          : null,
      hasPdf: e.pdf !== null,
      readers: readers.get(e.id)!,
      deliveries: deliveries
        .filter((d) => d.edition_id === e.id)
        .map((d) => ({
          email: d.email,
          name: d.name,
          state: d.state,
          tries: d.tries,
          reply: d.reply,
          nextTry: ['deferred', 'uncertain'].includes(d.state) && d.next_at !== NEVER ? d.next_at : null,
        })),
    };
  });
}

/** What the mails of an edition are written from now, and whether its pages are those that would be drawn. */
async function standingOf(api: Api, db: Store, e: EditionRow) {
  const settled = await settle(db, e);
  return {
    basis: await mailBasis(api, db, e, settled.orders),
    fresh: e.stale === 0 && (await madeOfNow(api, db, e, settled)) === e.made_of,
  };
}

/** The mails that an edition would send now, and the hash of all that a person sees of it. */
async function reviewNow(api: Api, e: EditionRow) {
  const frozen = readFrozen(api.files.read(e.frozen!).toString('utf8'), `the edition ${e.id}`);
  const standing = await standingOf(api, api.store, e);
  const mails = await composeMails(standing.basis, frozen);
  return { frozen, mails, ...standing, hash: mails.ok ? reviewHash(e, mails.messages) : null };
}

/** Marks a drawn edition to be drawn anew, where something that it is made of has changed. */
async function drawAnew(api: Api, e: EditionRow): Promise<void> {
  await patchEdition(api.store, e, { stale: 1, next_at: api.clock.now() });
  api.scheduler.nudge();
}

/** Takes up what was left out: before its time it goes as any run does, after it it waits to be looked at. */
async function takeUp(tx: Store, e: EditionRow, by: { at: string; actor: string }): Promise<void> {
  const ahead = e.due_at > by.at;
  await moveEdition(tx, e, ahead ? 'planned' : 'collecting', { next_at: by.at, was_held: ahead ? 0 : 1, stale: 0 }, by);
}

async function theEditions(api: Api, member: Member, ids: readonly string[], state: EditionRow['state']) {
  const found = await Promise.all(ids.map((id) => theEdition(api.store, member, id)));
  const other = found.find((e) => e.state !== state);
  if (other)
    throw new Refusal(409, `“${ordersOf(other).title}” is now “${STATE_LABELS[other.state]}”. Reload the page.`);
  return found;
}

/** A mail as each of those sees it who get it. */
const mailsShown = ({ to, subject, text, fileName }: NewMessage, formats: readonly string[] = []): Review['mails'] => {
  const tables = formats.map((format) => fileName.replace(/pdf$/, format));
  const many = to.length > 1;
  return to.flatMap(({ reader, name, email, line, withheld }) =>
    withheld ? [] : { reader, name, email, line: many ? line : null, subject, text, fileName, tables },
  );
};

async function reviewOf(api: Api, e: EditionRow, client: StoredClient) {
  const agency = (await agencyOf(api.store))!;
  const manager = await memberById(api.store, client.managerId);
  const from = { name: agency.name, address: agency.mailFrom, replyTo: manager?.email ?? null };
  const [edition] = await describe(api, [e]);
  const empty = {
    edition: edition!,
    lang: client.language,
    pages: [],
    mails: [],
    withheld: [],
    turned: [],
    remarks: [],
    from,
    note: ordersOf(e).mail?.parts.some((p) => p.kind === 'note') ? e.mail_note : null,
    stale: false,
    hash: null,
  };
  if (e.frozen === null) return { ...empty, problem: e.reason ?? 'The PDF isn’t ready yet.' };
  const { frozen, mails, fresh, hash } = await reviewNow(api, e);
  if (!fresh && maySend(e)) await drawAnew(api, e);
  return {
    ...empty,
    lang: frozen.scene.lang,
    pages: frozen.scene.pages,
    turned: frozen.turned ?? [],
    remarks: remarksOf(frozen.scene),
    mails: mails.ok ? mails.messages.flatMap((m) => mailsShown(m, ordersOf(e).formats)) : [],
    withheld: mails.ok ? mails.messages.flatMap((m) => m.to.flatMap((t) => t.withheld ?? [])) : [],
    problem: mails.ok ? null : mails.reason,
    stale: !fresh && maySend(e),
    hash: maySend(e) && fresh ? hash : null,
  };
}

export const editionHandlers: Handlers<Exclude<Extract<RouteName, `${string}/editions${string}`>, MailRoute>> = {
  'GET /api/editions': async ({ api, session, query }) => {
    const visibility = { member: session.member, client: query.client || undefined, scope: query.scope };
    const { rows, total } = await findEditions(
      api.store,
      { visibility, state: query.state, text: query.text?.trim() || undefined, tests: query.tests },
      { offset: (query.page - 1) * PAGE_SIZE, limit: PAGE_SIZE },
    );
    return { editions: await describe(api, rows), total, pageSize: PAGE_SIZE };
  },

  'GET /api/editions/:edition': async ({ api, session, params }) =>
    (await describe(api, [await theEdition(api.store, session.member, params.edition)]))[0]!,

  'GET /api/editions/:edition/review': async ({ api, session, params }) => {
    const e = await theEdition(api.store, session.member, params.edition);
    return reviewOf(api, e, (await clientById(api.store, e.client_id))!);
  },

  'POST /api/editions/:edition/send': async ({ api, session, params, body }) => {
    const e = await theEdition(api.store, session.member, params.edition);
    checkWorking((await clientById(api.store, e.client_id))!);
    if (!maySend(e)) throw new Refusal(409, `This edition is “${STATE_LABELS[e.state]}”, so it can’t be approved.`);
    const { mails, hash, basis } = await reviewNow(api, e);
    if (!mails.ok) throw new Refusal(422, mails.reason);
    const at = api.clock.now();
    await inTransaction(api.store, async (tx) => {
      // The mails were written before; what they are written from is compared once nobody else can change it.
      const now = await standingOf(api, tx, e);
      if (!now.fresh || !isSameBasis(basis, now.basis) || hash !== body.hash) {
        throw new Refusal(409, 'The edition changed since you opened it. Review it again before sending.');
      }
      // A run goes at its time; what is late, or was made by hand, at once: after the moment in which it can be undone.
      const soon = new Date(Date.parse(at) + api.config.undo).toISOString();
      const next_at = e.kind === 'scheduled' && e.due_at > soon ? e.due_at : soon;
      const hashes = approvedHashes(e, mails.messages);
      const approval_id = await keepApproval(tx, { editionId: e.id, memberId: session.member.id, hashes, at });
      const patch = { approval_id, next_at, was_held: 0 as const };
      if (!(await moveEdition(tx, e, 'ready', patch, { at, actor: session.member.id }))) {
        throw new Refusal(409, 'Its status has changed. Reload the page.');
      }
    });
    api.scheduler.nudge();
    return { done: true };
  },

  'POST /api/editions/:edition/take-back': async ({ api, session, params }) => {
    const e = await theEdition(api.store, session.member, params.edition);
    if (!mayTakeBack(e))
      throw new Refusal(409, `This edition is “${STATE_LABELS[e.state]}”: there is no approval to undo.`);
    const at = api.clock.now();
    // It is drawn anew, as whatever was signed off stood still meanwhile.
    const patch = { approval_id: null, next_at: at, stale: 0 as const, was_held: 1 as const };
    await inTransaction(api.store, async (tx) => {
      if (!(await moveEdition(tx, e, 'collecting', patch, { at, actor: session.member.id }))) {
        throw new Refusal(409, 'It is already being sent.');
      }
      await takeBackApproval(tx, e.approval_id!, at);
    });
    api.scheduler.nudge();
    return { done: true };
  },

  'POST /api/editions/:edition/retry': async ({ api, session, params }) => {
    const e = await theEdition(api.store, session.member, params.edition);
    const at = api.clock.now();
    const by = { at, actor: session.member.id };
    if (!mayRetry(e))
      throw new Refusal(409, `This edition is “${STATE_LABELS[e.state]}”: there is nothing to restore.`);
    await inTransaction(api.store, async (tx) => {
      const written = await deliveriesOf(tx, [e.id]);
      const client = (await clientById(tx, e.client_id))!;
      const again = written.filter(
        (d) => d.state === 'refused' || d.state === 'bounced' || (d.state === 'uncertain' && d.next_at === NEVER),
      );
      const readers = await addresseesOf(
        tx,
        client,
        again.map((d) => (d.reader_id.startsWith('me_') ? { member: d.reader_id } : { contact: d.reader_id })),
      );
      const held = readers.filter((r) => r.fault !== null);
      // Whom nothing may go to is not tried: what stops it is mended first.
      const going = again.filter((d) => !held.some((r) => r.id === d.reader_id));
      if (going.length === 0 && held[0]) {
        throw new Refusal(422, `${held[0].name} (${held[0].email}) ${GUARD_WORDS[held[0].fault!]}`);
      }
      await forgetHeads(
        tx,
        going.map((d) => d.message_id),
      );
      for (const d of going) await moveDelivery(tx, d, 'queued', { tries: 0, doubts: 0, next_at: at }, by);
      // When it was due stays as it was. What was seen goes on; anything else is looked for, and looked at, anew.
      if (written.length > 0) {
        await moveEdition(tx, e, 'sending', { next_at: null }, by);
        await settleEdition(tx, e.id, at);
      } else await moveEdition(tx, e, 'collecting', { next_at: at, stale: 0 }, by);
    });
    api.scheduler.nudge();
    return { done: true };
  },

  'POST /api/editions/:edition/skip': async ({ api, session, params }) => {
    const e = await theEdition(api.store, session.member, params.edition);
    if (!MAY_BE_LEFT_OUT.includes(e.state)) {
      throw new Refusal(409, `This edition is “${STATE_LABELS[e.state]}”: it can no longer be skipped.`);
    }
    const by = { at: api.clock.now(), actor: session.member.id };
    const patch = { reason: `Skipped by ${session.member.name}.`, next_at: null };
    if (!(await moveEdition(api.store, e, 'skipped', patch, by))) {
      throw new Refusal(409, 'Its status has changed. Reload the page.');
    }
    return { done: true };
  },

  'POST /api/editions/take-up': async ({ api, session, body }) => {
    const editions = await theEditions(api, session.member, body.editions, 'skipped');
    const by = { at: api.clock.now(), actor: session.member.id };
    await inTransaction(api.store, async (tx) => {
      for (const e of editions) await takeUp(tx, e, by);
    });
    api.scheduler.nudge();
    return { done: true };
  },

  'POST /api/editions/put-away': async ({ api, session, body }) => {
    const editions = await theEditions(api, session.member, body.editions, 'skipped');
    await inTransaction(api.store, async (tx) => {
      for (const e of editions) await patchEdition(tx, e, { code: null });
    });
    return { done: true };
  },
};
