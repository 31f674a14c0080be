import { civilDateAt } from '@chronicon/core/calendar';
import type { Routes } from '@chronicon/core/contract';
import { metricBook } from '@chronicon/core/figures';
import { composeMail, mailHtml, mailPlain, picturesOf } from '@chronicon/core/mail';
import {
  blockKind,
  blocksOfMail,
  chooseParts,
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
import type { z } from 'zod';
import { atField } from '../platform/refusal.ts';
import { orderBasis } from '../render/orderBasis.ts';
import { orderMetrics } from '../render/orderMetrics.ts';
import { addresseesOf } from '../scheduler/addressees.ts';
import { peopleOf } from '../scheduler/ordersOfRun.ts';
import type { StoredClient } from '../store/clients.ts';
import { commentaryFor } from '../store/commentaries.ts';
import { feedsOf } from '../store/feeds.ts';
import { agencyOf, memberById } from '../store/members.ts';
import { reportById, type StoredReport } from '../store/reports.ts';
import { aboutBlock, kindOfBlock } from './blockNames.ts';
import type { Api } from './context.ts';
import { filesWith, person, senderOf, whole } from './mailShown.ts';

type Route = Routes['POST /api/clients/:client/schedules/mail'];
type Asked = z.output<Route['body']>;
type Reply = z.output<Route['reply']>;
type MailPartOffer = z.output<Routes['GET /api/reports/:report/mail-parts']['reply']>[number];

/**
 * The mail of a schedule that is being designed, as a reader would get it: with the figures of its last period as of today.
 * Nothing of it is kept.
 */
export async function previewMail(api: Api, client: StoredClient, body: Asked): Promise<Reply> {
  const report = await reportById(api.store, body.reportId);
  if (report?.clientId !== client.id) throw atField('reportId', 'Choose a report of this client.');
  const group = body.groups?.groups[0];
  const readers = [...(group?.readers ?? []), ...body.readers];
  const people = await addresseesOf(api.store, client, await peopleOf(api.store, client.id, readers));
  const shown = people.find((p) => p.id === body.reader) ?? people[0] ?? null;
  const released = report.release?.document ?? report.document;
  const document = chooseParts(released, body) ?? released;
  const asOf = civilDateAt(api.clock.now(), client.zone);
  const looked = { ...ownOfSchedule(body), period: body.period, comparison: body.comparison };
  const basis = await orderBasis(api.store, client);
  const dates = settleReport(document, looked, asOf, { ...client, excluded: basis.excluded });
  const book = metricBook(client.metrics);
  const english = formatterOf('en-GB', client.currency);
  const about = { readers: people.map(person), period: english.range(dates.period) };
  const gone = goneFromMail(document, body.mail);
  if (gone.length > 0) {
    const problem = 'Part of the email shows a block that isn’t on the included pages. Choose another one.';
    return { ...about, mail: null, problem, lacks: [] };
  }
  const found = await api.workers.mail({
    ...basis,
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
    frozen,
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
  const words = formatterOf(found.order.language, client.currency).words;
  const made = new Map((found.drawn?.pictures ?? []).map((p) => [api.files.hashOf(p), Buffer.from(p)]));
  const pictures = picturesOf(mail).map(({ cid, file }) => ({ cid, content: made.get(file) ?? api.files.read(file) }));
  return {
    ...about,
    mail: {
      to: shown && person(shown),
      from: await senderOf(api, client),
      subject: mail.subject,
      preview: mail.preview,
      html: whole(mailHtml(mail), pictures, body.scheme),
      text: mailPlain(mail, words),
      files: filesWith(mail, body.formats),
    },
    problem: null,
    lacks,
  };
}

/** What mails can show of a report as it is released, else as it is edited. */
export function mailPartsOf(report: StoredReport, client: StoredClient): MailPartOffer[] {
  const document = report.release?.document ?? report.document;
  return standing(document).pages.flatMap((page) =>
    page.rows.flatMap((r) =>
      r.blocks.flatMap((block) => {
        const as = blockKind(block).mail?.as;
        if (as === undefined || !MAIL_SHOWS.includes(as)) return [];
        const about = aboutBlock(block, client);
        return { block: block.id, page: page.title, as, kind: kindOfBlock(block, client), about };
      }),
    ),
  );
}
