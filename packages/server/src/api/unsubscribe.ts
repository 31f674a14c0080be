import { fill, wordsFor } from '@chronicon/core/words';
import express, { type Express, type NextFunction, type Request, type Response } from 'express';
import { rateLimit } from 'express-rate-limit';
import { sendLetter } from '../mail/letters.ts';
import { clientById, contactsByIds, type StoredClient, type StoredContact, setStanding } from '../store/clients.ts';
import { editionById, ordersOf } from '../store/editions.ts';
import { record } from '../store/ledger.ts';
import { leftDelivery, leftMessage, tokenKey } from '../store/mailTokens.ts';
import { agencyOf, memberById } from '../store/members.ts';
import { deliveriesOfMessage, deliveryById } from '../store/messages.ts';
import { inTransaction } from '../store/store.ts';
import type { Api } from './context.ts';
import { homeOf } from './tellMember.ts';
import { unsubscribePage } from './unsubscribePage.ts';

/** Presses from one address within a minute: a person makes a few, a program that guesses many. */
const PACE = { windowMs: 60_000, limit: 30 };

interface Reader {
  client: StoredClient;
  contact: StoredContact;
  /** Of the mail by which they came. */
  language: string;
}

/** Whose link it is; null for one that was not made here, or of somebody who is no contact any more. */
async function readerOf(api: Api, token: string): Promise<Reader | null> {
  const id = await leftDelivery(api.store, await tokenKey(api.store, api.secrets), token, api.clock.now());
  const delivery = id === null ? null : await deliveryById(api.store, id);
  const edition = delivery && (await editionById(api.store, delivery.edition_id));
  if (!delivery || !edition) return null;
  const client = (await clientById(api.store, edition.client_id))!;
  const [contact] = await contactsByIds(api.store, client.id, [delivery.reader_id]);
  return contact ? { client, contact, language: ordersOf(edition).language ?? client.language } : null;
}

/** Has somebody get no more mails, once; the manager learns of it by mail, and everybody on the Desk. */
async function leave(api: Api, { client, contact }: Pick<Reader, 'client' | 'contact'>, how: string): Promise<void> {
  if (contact.standing === 'declined') return;
  const at = api.clock.now();
  await inTransaction(api.store, async (tx) => {
    await setStanding(tx, client.id, contact.id, 'declined', at);
    const detail = { email: contact.email, how };
    await record(tx, { at, actor: 'reader', action: 'contact.declined', subject: contact.id, detail });
  });
  api.scheduler.nudge();
  const manager = await memberById(api.store, client.managerId);
  if (!manager || !api.config.notices) return;
  const name = `${contact.firstName} ${contact.lastName}`.trim();
  sendLetter(api, {
    to: manager,
    subject: `${name} unsubscribed from reports of ${client.name}`,
    text: `Hello ${manager.name},\n\n${name} (${contact.email}) unsubscribed ${how}. We won’t email this address from any schedule or list.\n\nCheck with them to resubscribe, or choose another reader.`,
    link: new URL(`/clients/${client.id}/contacts`, homeOf(api)).href,
  }).catch((err) => api.log.error({ err }, 'a manager could not be told that somebody wants no more mails'));
}

/**
 * How readers have no more mails, without signing in: one press in the mail program (RFC 8058: a POST to the link, without
 * cookies or questions), or a page. Looking at the page changes nothing: programs follow links by themselves.
 */
export function addUnsubscribe(app: Express, api: Api): void {
  const send = (res: Response, status: number, page: Parameters<typeof unsubscribePage>[0]) => {
    res.status(status).type('html').set('cache-control', 'no-store').send(unsubscribePage(page));
  };
  const asked =
    (work: (req: Request, res: Response) => Promise<void>) => (req: Request, res: Response, next: NextFunction) => {
      work(req, res).catch(next);
    };
  const agencyWords = async () => {
    const agency = (await agencyOf(api.store))!;
    return { agency: agency.name, lang: agency.language };
  };
  const wrong = async (res: Response) => {
    const { lang } = await agencyWords();
    const words = wordsFor(lang);
    send(res, 404, { lang, words, said: words.mail.leave.wrong, press: null });
  };
  const form = express.urlencoded({ extended: false, limit: 4096 });
  const pace = rateLimit({ ...PACE, legacyHeaders: false });

  app.get(
    '/unsubscribe/:token',
    pace,
    asked(async (req, res) => {
      const reader = await readerOf(api, String(req.params.token));
      if (!reader) return wrong(res);
      const { client, contact, language: lang } = reader;
      const words = wordsFor(lang);
      const { agency } = await agencyWords();
      const said = fill(words.mail.leave.who, {
        name: `${contact.firstName} ${contact.lastName}`.trim(),
        client: client.name,
        agency,
      });
      const isDone = contact.standing === 'declined';
      send(res, 200, {
        lang,
        words,
        said: isDone ? fill(words.mail.leave.done, { email: contact.email, agency }) : said,
        press: isDone ? null : fill(words.mail.leave.press, { email: contact.email }),
      });
    }),
  );
  app.post(
    '/unsubscribe/:token',
    pace,
    form,
    asked(async (req, res) => {
      const reader = await readerOf(api, String(req.params.token));
      if (!reader) return wrong(res);
      const oneClick = (req.body as Record<string, unknown> | undefined)?.['List-Unsubscribe'] === 'One-Click';
      await leave(api, reader, oneClick ? 'with one click in their email app' : 'on the page linked in an email');
      const words = wordsFor(reader.language);
      const { agency } = await agencyWords();
      const said = fill(words.mail.leave.done, { email: reader.contact.email, agency });
      send(res, 200, { lang: reader.language, words, said, press: null });
    }),
  );
  // Of mails that go to many, whose link is the same for all: who holds the mail says which of its readers they are. What is
  // answered says nothing of who reads.
  const isMail = async (req: Request): Promise<string | null> => {
    const key = await tokenKey(api.store, api.secrets);
    return leftMessage(api.store, key, String(req.params.token), api.clock.now());
  };
  app.get(
    '/unsubscribe/all/:token',
    pace,
    asked(async (req, res) => {
      if ((await isMail(req)) === null) return wrong(res);
      const { lang } = await agencyWords();
      const words = wordsFor(lang);
      send(res, 200, { lang, words, said: '', press: words.mail.leave.title, asksAddress: true });
    }),
  );
  app.post(
    '/unsubscribe/all/:token',
    pace,
    form,
    asked(async (req, res) => {
      const id = await isMail(req);
      if (id === null) return wrong(res);
      const { agency, lang } = await agencyWords();
      const words = wordsFor(lang);
      const email = String((req.body as Record<string, unknown> | undefined)?.email ?? '')
        .trim()
        .toLowerCase()
        .slice(0, 254);
      for (const d of await deliveriesOfMessage(api.store, id)) {
        const edition = (await editionById(api.store, d.edition_id))!;
        const client = (await clientById(api.store, edition.client_id))!;
        const [contact] = await contactsByIds(api.store, client.id, [d.reader_id]);
        // By the address that they have now, or had when it went.
        if (contact && [contact.email, d.email.toLowerCase()].includes(email)) {
          await leave(api, { client, contact }, 'on the page linked in an email to many');
        }
      }
      send(res, 200, { lang, words, said: fill(words.mail.leave.done, { email, agency }), press: null });
    }),
  );
}
