import { civilDateAt } from '@chronicon/core/calendar';
import { GUARD_WORDS } from '@chronicon/core/client';
import type { DeliveryDetail, MailShown, RouteName } from '@chronicon/core/contract';
import { FOLLOWING, mayFollow, messageIdOf } from '@chronicon/core/edition';
import { metricBook } from '@chronicon/core/figures';
import { composeMail, type MailContent, mailHtml, mailPlain, picturesOf } from '@chronicon/core/mail';
import { type Frozen, readFrozen } from '@chronicon/core/page';
import {
  blockKind,
  blocksOfMail,
  choosePages,
  describeMergeFault,
  goneFromMail,
  MAIL_SHOWS,
  metricsNamed,
  ownOfSchedule,
  settleReport,
  standing,
  textsOfMail,
} from '@chronicon/core/report';
import { describeLacks, formatterOf } from '@chronicon/core/words';
import { type Addressee, addresseesOf } from '../clockwork/addressees.ts';
import { mailPictures } from '../clockwork/editionFiles.ts';
import { mailsOf } from '../clockwork/mails.ts';
import { settle } from '../clockwork/orders.ts';
import { peopleOf } from '../clockwork/ordersOfRun.ts';
import { atField, notFound, Refusal } from '../ground/refusal.ts';
import { pictureType } from '../post/mailPictures.ts';
import { orderBasis } from '../press/orderBasis.ts';
import { orderMetrics } from '../press/orderMetrics.ts';
import { attemptsOf } from '../store/attempts.ts';
import { clientById, type StoredClient } from '../store/clients.ts';
import { commentaryFor } from '../store/commentaries.ts';
import { type EditionRow, moveEdition, patchEdition } from '../store/editions.ts';
import { feedsOf, NEVER } from '../store/feeds.ts';
import { record } from '../store/ledger.ts';
import { mailFilesOf } from '../store/mailFiles.ts';
import { agencyOf, memberById, memberNames } from '../store/members.ts';
import { addMessages, deliveriesOf, type MessageRow, messagesOf, nextRound } from '../store/messages.ts';
import { reportById } from '../store/reports.ts';
import { inTransaction } from '../store/store.ts';
import { theClient, theEdition, theReport } from './access.ts';
import type { Api, Handlers } from './context.ts';
import { checkWorking } from './working.ts';

type Scheme = 'light' | 'dark';

/** A picture as it stands within a page by itself (RFC 2397). */
const dataUri = (content: Buffer): string => `data:${pictureType(content)};base64,${content.toString('base64')}`;

/** HTML whose pictures stand within it, and which has the night's colours where these are asked for. */
function whole(html: string, pictureOf: (file: string) => Buffer | null, scheme: Scheme): string {
  const shown = html.replace(/src="cid:([0-9a-f]{64})@[a-z]+"/g, (all, file: string) => {
    const content = pictureOf(file);
    return content ? `src="${dataUri(content)}"` : all;
  });
  return scheme === 'dark'
    ? shown.replace('@media (prefers-color-scheme:dark)', '@media all')
    : shown.replace('@media (prefers-color-scheme:dark)', '@media not all');
}

/** Whom the mails of a client are from, and where answers go. */
async function senderOf(api: Api, client: StoredClient): Promise<MailShown['from']> {
  const agency = (await agencyOf(api.store))!;
  const manager = await memberById(api.store, client.managerId);
  return { name: agency.name, address: agency.mailFrom, replyTo: manager?.email ?? null };
}

const person = ({ id, name, email }: Addressee) => ({ id, name, email });

const filesWith = (mail: Pick<MailContent, 'fileName' | 'files'>, formats: readonly string[] = []): string[] => [
  mail.fileName,
  ...formats.map((format) => mail.fileName.replace(/pdf$/, format)),
  ...mail.files.map((f) => f.name),
];

/** The mail of a delivery that was written, as it went. */
function written(api: Api, m: MessageRow, e: EditionRow, scheme: Scheme) {
  return mailPictures(api, e, m.html).then((kept) => {
    const pictures = new Map(kept.ok ? kept.pictures.map((p) => [p.cid.slice(0, 64), p.content]) : []);
    return whole(m.html, (file) => pictures.get(file) ?? null, scheme);
  });
}

async function mailOfEdition(api: Api, e: EditionRow, reader: string, scheme: Scheme): Promise<MailShown> {
  const client = (await clientById(api.store, e.client_id))!;
  const from = await senderOf(api, client);
  const sent = await messagesOf(api.store, e.id);
  if (sent.length > 0) {
    const all = await deliveriesOf(api.store, [e.id]);
    for (const m of sent) {
      const d = all.find((x) => x.message_id === m.id && x.reader_id === reader);
      if (!d) continue;
      const { formats } = (await settle(api.store, e)).orders;
      const files = JSON.parse(m.files) as MailContent['files'];
      return {
        to: { id: reader, name: d.name, email: d.email },
        from,
        subject: m.subject,
        preview: '',
        html: await written(api, m, e, scheme),
        text: m.text,
        files: filesWith({ fileName: m.file_name, files }, formats),
      };
    }
  }
  if (e.frozen === null) throw notFound('mail');
  const frozen = readFrozen(api.files.read(e.frozen).toString('utf8'), `the edition ${e.id}`);
  const { orders } = await settle(api.store, e);
  const mails = await mailsOf(api.store, e, orders, frozen, api.config.url);
  if (!mails.ok) throw new Refusal(422, mails.reason);
  const m = mails.messages.find((x) => x.to.some((t) => t.reader === reader));
  if (!m) throw notFound('mail');
  const kept = await mailPictures(api, e, m.html);
  const pictures = new Map(kept.ok ? kept.pictures.map((p) => [p.cid.slice(0, 64), p.content]) : []);
  const to = m.to.find((t) => t.reader === reader)!;
  return {
    to: { id: reader, name: to.name, email: to.email },
    from,
    subject: m.subject,
    preview: '',
    html: whole(m.html, (file) => pictures.get(file) ?? null, scheme),
    text: m.text,
    files: filesWith(m, orders.formats),
  };
}

/** Deliveries of an edition with all that was tried, the newest round first. */
async function detailsOf(api: Api, e: EditionRow): Promise<DeliveryDetail[]> {
  const messages = new Map((await messagesOf(api.store, e.id)).map((m) => [m.id, m]));
  const deliveries = await deliveriesOf(api.store, [e.id]);
  const attempts = await attemptsOf(
    api.store,
    deliveries.map((d) => d.id),
  );
  const members = await memberNames(api.store);
  return deliveries
    .map((d): DeliveryDetail => {
      const m = messages.get(d.message_id)!;
      return {
        id: d.id,
        reader: d.reader_id,
        name: d.name,
        email: d.email,
        state: d.state,
        reply: d.reply,
        nextTry: ['deferred', 'uncertain'].includes(d.state) && d.next_at !== NEVER ? d.next_at : null,
        messageId: m.message_id,
        subject: m.subject,
        round: m.resend,
        askedBy: m.asked_by === null ? null : (members.get(m.asked_by) ?? 'somebody who left'),
        attempts: attempts
          .filter((a) => a.delivery_id === d.id)
          .map((a) => ({ at: a.began_at, endedAt: a.ended_at, email: a.email, outcome: a.outcome, reply: a.reply })),
        mayResend: maySendAgain(e),
      };
    })
    .sort((a, b) => b.round - a.round || (a.name < b.name ? -1 : 1));
}

/** What was sent can go once more; while it is on its way, what waits is tried by itself. */
const maySendAgain = (e: EditionRow): boolean =>
  mayFollow(e.state, 'sending') && e.state !== 'held' && e.state !== 'cleared';

/** Writes an edition's mails once more for those who are named: as they went, under ids of their own. */
async function resend(api: Api, e: EditionRow, ids: readonly string[] | null, memberId: string): Promise<number> {
  const client = (await clientById(api.store, e.client_id))!;
  checkWorking(client);
  if (!maySendAgain(e)) throw new Refusal(409, `This edition is ${e.state}: it has not been sent yet.`);
  const at = api.clock.now();
  return inTransaction(api.store, async (tx) => {
    const sent = await messagesOf(tx, e.id);
    const all = await deliveriesOf(tx, [e.id]);
    const had = new Set(all.filter((d) => d.state !== 'withdrawn').map((d) => d.reader_id));
    const wanted = ids === null ? [...had] : [...new Set(ids)];
    const people = await addresseesOf(
      tx,
      client,
      wanted.map((id) => (id.startsWith('me_') ? { member: id } : { contact: id })),
    );
    const lost = wanted.find((id) => !people.some((p) => p.id === id));
    if (lost !== undefined && ids !== null) throw atField('readers', 'Choose contacts of this client, or members.');
    const held = people.find((p) => p.fault !== null);
    if (held && ids !== null) throw atField('readers', `${held.name} (${held.email}) ${GUARD_WORDS[held.fault!]}`);
    const going = people.filter((p) => p.fault === null);
    if (going.length === 0) throw atField('readers', 'There is nobody left to whom it may go.');
    const round = await nextRound(tx, e.id);
    const agency = (await agencyOf(tx))!;
    const domain = agency.mailFrom.split('@')[1] ?? 'localhost';
    const messages = going.map((p) => {
      // As it went to them; whoever had none gets it as it went to the others.
      const own = all.find((d) => d.reader_id === p.id && d.state !== 'withdrawn');
      const like = sent.find((m) => m.id === own?.message_id) ?? sent[0]!;
      return {
        messageId: messageIdOf(e.id, p.id, round, domain),
        resend: round,
        contactId: p.id,
        subject: like.subject,
        html: like.html,
        text: like.text,
        fileName: like.file_name,
        files: JSON.parse(like.files) as MailContent['files'],
        home: like.home,
        askedBy: memberId,
        to: [{ reader: p.id, email: p.email, name: p.name, line: 'to' as const }],
      };
    });
    if (!(await moveEdition(tx, e, 'sending', { next_at: null, reason: null }, { at, actor: memberId }))) {
      throw new Refusal(409, 'It has moved on meanwhile. Load the page again.');
    }
    await addMessages(tx, e.id, messages, at);
    const detail = { readers: going.map((p) => p.email) };
    await record(tx, { at, actor: memberId, action: 'edition.resent', subject: e.id, detail });
    return messages.length;
  });
}

/** Doors to mails, and to what became of them. */
export type MailRoute = Extract<
  RouteName,
  | `${string}/schedules/mail`
  | `${string}/mail-parts`
  | `GET ${string}/mail-files`
  | `${string}/mails/:reader`
  | 'PUT /api/editions/:edition/note'
  | `${string}/deliveries`
  | `${string}/resend`
>;

export const mailHandlers: Handlers<MailRoute> = {
  'POST /api/clients/:client/schedules/mail': async ({ api, session, params, body }) => {
    const client = await theClient(api.store, session.member, params.client);
    const report = await reportById(api.store, body.reportId);
    if (report?.clientId !== client.id) throw atField('reportId', 'Choose a report of this client.');
    const group = body.groups?.groups[0];
    const readers = [...(group?.readers ?? []), ...body.readers];
    const people = await addresseesOf(api.store, client, await peopleOf(api.store, client.id, readers));
    const shown = people.find((p) => p.id === body.reader) ?? people[0] ?? null;
    const released = report.release?.document ?? report.document;
    const document = choosePages(released, body.pages) ?? released;
    const asOf = civilDateAt(api.clock.now(), client.zone);
    const looked = { ...ownOfSchedule(body), period: body.period, comparison: body.comparison };
    const dates = settleReport(document, looked, asOf, client);
    const book = metricBook(client.metrics);
    const english = formatterOf('en-GB', client.currency);
    const about = { readers: people.map(person), period: english.range(dates.period) };
    const gone = goneFromMail(document, body.mail);
    if (gone.length > 0) {
      const problem = 'A part of the mail shows something that is on none of the pages that go. Choose another one.';
      return { ...about, mail: null, problem, lacks: [] };
    }
    const found = await api.press.mail({
      ...(await orderBasis(api.store, client)),
      ...orderMetrics(client.metrics, document, looked.assumed),
      ...ownOfSchedule(body),
      asOf,
      title: report.release?.title ?? report.title,
      document,
      commentary: await commentaryFor(api.store, report.id, dates.period, report.release ? 'released' : 'draft'),
      ...dates,
      mailMetrics: [...new Set(textsOfMail(body).flatMap(metricsNamed))].filter((key) => book.has(key)),
      mailBlocks: blocksOfMail(document, body.mail),
    });
    const feeds = await feedsOf(api.store, client.id);
    const lacks = describeLacks(found.lacks, feeds, english, book);
    const frozen = { order: found.order, answers: found.answers, ...(found.drawn && { mail: found.drawn.mail }) };
    const manager = await memberById(api.store, client.managerId);
    const agency = (await agencyOf(api.store))!;
    const message = group?.greeting ? `${group.greeting}\n\n${body.message}` : body.message;
    const composed = composeMail(
      frozen as unknown as Frozen,
      { ...body, message, note: '' },
      {
        firstName: body.mailing === 'one' && people.length > 1 ? '' : (shown?.firstName ?? ''),
        manager: manager && { name: manager.name, email: manager.email },
        number: '–',
      },
      { isTest: false, postalAddress: agency.settings.postalAddress },
    );
    if (!composed.ok) return { ...about, mail: null, problem: describeMergeFault(composed.fault), lacks };
    const { mail } = composed;
    const words = formatterOf(found.order.language, client.currency).words.mail;
    const made = new Map((found.drawn?.pictures ?? []).map((p) => [api.files.hashOf(p), Buffer.from(p)]));
    const pictures = new Map(picturesOf(mail).map(({ file }) => [file, made.get(file) ?? api.files.read(file)]));
    return {
      ...about,
      mail: {
        to: shown && person(shown),
        from: await senderOf(api, client),
        subject: mail.subject,
        preview: mail.preview,
        html: whole(mailHtml(mail, words), (file) => pictures.get(file) ?? null, body.scheme),
        text: mailPlain(mail, words),
        files: filesWith(mail, body.formats),
      },
      problem: null,
      lacks,
    };
  },

  'GET /api/reports/:report/mail-parts': async ({ api, session, params }) => {
    const report = await theReport(api.store, session.member, params.report);
    const client = (await clientById(api.store, report.clientId))!;
    const english = formatterOf('en-GB', client.currency);
    const book = metricBook(client.metrics);
    const document = report.release?.document ?? report.document;
    return standing(document).pages.flatMap((page) =>
      page.rows.flatMap((r) =>
        r.blocks.flatMap((block) => {
          const as = blockKind(block).mail?.as;
          if (as === undefined || !MAIL_SHOWS.includes(as)) return [];
          const metrics = blockKind(block)
            .metricsOf(block)
            .map((key) => (book.has(key) ? book.labelOf(key, english.words.metrics) : key));
          const title = 'title' in block && typeof block.title === 'string' ? block.title.trim() : '';
          const kind = english.words.blocks[block.kind] ?? block.kind;
          return { block: block.id, page: page.title, as, kind, about: title || metrics.slice(0, 3).join(', ') };
        }),
      ),
    );
  },

  'GET /api/clients/:client/mail-files': async ({ api, session, params }) =>
    mailFilesOf(api.store, (await theClient(api.store, session.member, params.client)).id),

  'GET /api/editions/:edition/mails/:reader': async ({ api, session, params, query }) => {
    const e = await theEdition(api.store, session.member, params.edition);
    return mailOfEdition(api, e, params.reader, query.scheme);
  },

  'PUT /api/editions/:edition/note': async ({ api, session, params, body }) => {
    const e = await theEdition(api.store, session.member, params.edition);
    checkWorking((await clientById(api.store, e.client_id))!);
    if (!FOLLOWING.includes(e.state) || e.seen !== null) {
      throw new Refusal(409, 'It is signed off or on its way: its mails stay as they are.');
    }
    const at = api.clock.now();
    await inTransaction(api.store, async (tx) => {
      await patchEdition(tx, e, { mail_note: body.note });
      await record(tx, { at, actor: session.member.id, action: 'edition.note', subject: e.id });
    });
    return { done: true };
  },

  'GET /api/editions/:edition/deliveries': async ({ api, session, params }) =>
    detailsOf(api, await theEdition(api.store, session.member, params.edition)),

  'POST /api/editions/:edition/resend': async ({ api, session, params, body }) => {
    const e = await theEdition(api.store, session.member, params.edition);
    const mails = await resend(api, e, body.readers, session.member.id);
    api.clockwork.nudge();
    return { mails };
  },
};
