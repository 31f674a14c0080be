import { civilDateAt } from '@chronicon/core/calendar';
import type { AgencySettings, BrandPicture, MailServerInput, RouteName } from '@chronicon/core/contract';
import { agencyBrandSchema, type Logo } from '@chronicon/core/report';
import { LOCALES } from '@chronicon/core/words';
import type { Session } from '../access/sessions.ts';
import { FeedError } from '../feeds/connector.ts';
import {
  allServices,
  dropRegistration,
  furtherServices,
  keepRegistration,
  keptRegistration,
  registrationFor,
  serviceLabel,
  tryRegistration,
} from '../feeds/registrations.ts';
import { isFurther, isService, nextService } from '../feeds/registry.ts';
import { sendLetter } from '../mail/letters.ts';
import { createMailer } from '../mail/mailer.ts';
import { mailServerInUse } from '../mail/mailers.ts';
import { BoxError, tryBox } from '../mail/readBox.ts';
import { BudgetError } from '../platform/budget.ts';
import type { MailServer, SmtpWaits } from '../platform/mailServer.ts';
import { atField, notFound, Refusal } from '../platform/refusal.ts';
import {
  type Calendar,
  calendarById,
  calendars,
  clientsOfCalendar,
  removeCalendar,
  saveCalendar,
  updateAgency,
  updateCalendar,
  updateSettings,
} from '../store/agencyCalendar.ts';
import { boxState, keptBounceBox, openBox, removeBounceBox, setBounceBox } from '../store/bounceBox.ts';
import { clientIdsSeen, followColours } from '../store/clients.ts';
import { connections } from '../store/connections.ts';
import { markStale } from '../store/following.ts';
import { newId } from '../store/ids.ts';
import { record } from '../store/ledger.ts';
import type { LedgerDetail, LedgerKind } from '../store/ledgerKinds.ts';
import { keptDkim, mailRules, setDkim, setMailRules } from '../store/mailRules.ts';
import { type MailServerUse, mailServerOf, removeMailServer, setMailServer } from '../store/mailServers.ts';
import { agencyOf } from '../store/members.ts';
import { reportsOfFollowers } from '../store/reports.ts';
import { resumeSending } from '../store/sendingStops.ts';
import { inTransaction, type Store } from '../store/store.ts';
import { removeUnreadMail, unreadMails } from '../store/unreadMails.ts';
import { Written } from '../workers/written.ts';
import type { Api, Handlers } from './context.ts';
import { dkimRecord, makeDkim } from './dkim.ts';
import { homeOf } from './tellMember.ts';
import { checkTypefaces } from './typefaces.ts';

/** A person waits for the answer: nobody waits for a mail server as long as a report does. */
const TRY_WAITS: SmtpWaits = { answer: 15_000, content: 15_000, dot: 20_000 };

const useOf = (text: string): MailServerUse => {
  if (text === 'main' || text === 'notices') return text;
  throw notFound('mail server');
};

async function mailView(api: Api, use: MailServerUse) {
  const { mailServer } = api.config;
  if (use === 'main' && mailServer) {
    const { password, ...shown } = mailServer;
    return { ...shown, hasPassword: password !== '', setBy: 'CHRONICON_SMTP' };
  }
  const kept = await mailServerOf(api.store, use);
  if (!kept) return null;
  const { secret, ...shown } = kept;
  return { ...shown, hasPassword: secret !== '', setBy: null };
}

/** The server as it was typed in: with the password that is kept where none was typed, for the same place and user. */
async function asTyped(api: Api, use: MailServerUse, input: MailServerInput): Promise<MailServer> {
  const { password, ...server } = input;
  if (server.user === '') return { ...server, password: '' };
  if (password !== undefined) return { ...server, password };
  const kept = await mailServerInUse(api, use);
  // A password goes to the place that it was typed in for, and to no other.
  if (kept?.host !== server.host || kept.port !== server.port || kept.user !== server.user) {
    throw atField('password', 'Enter the password for this server and user.');
  }
  return { ...server, password: kept.password };
}

/** Entries of the ledger that have no details. */
type PlainKind = { [K in LedgerKind]: Record<string, never> extends LedgerDetail<K> ? K : never }[LedgerKind];

/** Changes something of the agency, with its entry in the ledger. */
async function changing(
  api: Api,
  { member }: Session,
  action: PlainKind,
  change: (tx: Store, at: string) => Promise<unknown>,
  subject = 'agency',
): Promise<{ done: true }> {
  const at = api.clock.now();
  await inTransaction(api.store, async (tx) => {
    await change(tx, at);
    await record(tx, { at, actor: member.id, action, subject });
  });
  api.scheduler.nudge();
  return { done: true };
}

const settingsChange =
  <K extends keyof AgencySettings>(key: K, action: PlainKind) =>
  ({ api, session, body }: { api: Api; session: Session; body: AgencySettings[K] }) =>
    changing(api, session, action, (tx) => updateSettings(tx, { [key]: body }));

async function describeCalendar({ store }: Api, { member }: Session, calendar: Calendar) {
  const kept = await clientsOfCalendar(store, calendar.id);
  const seen = await clientIdsSeen(store, { member });
  const clients = kept.filter((c) => seen.has(c.id));
  return { ...calendar, clients, others: kept.length - clients.length };
}

async function theCalendar(db: Store, id: string): Promise<Calendar> {
  const found = await calendarById(db, id);
  if (!found) throw notFound('calendar');
  return found;
}

/** The service's own words at the field that they are about. */
const NO_CLIENT_ID = 'Enter the name of your agency’s registration there.';

function refused(error: unknown): never {
  if (!(error instanceof FeedError)) throw error;
  throw atField(error.kind === 'refused' ? 'clientId' : 'address', error.message);
}

/** A kind that the agency may register for here. */
function theKind(api: Api, kind: string): string {
  if (!isService(kind)) throw notFound('service');
  if (api.config.feeds !== null && !isFurther(kind)) {
    throw new Refusal(409, 'Set by an environment variable (CHRONICON_FEEDS). Change it there.');
  }
  return kind;
}

/** Gives the agency's kit a picture, or takes it away; pages of clients that follow it change with it. */
export const setAgencyPicture = (api: Api, session: Session, as: BrandPicture, picture: Logo | null) =>
  changing(api, session, 'default-brand.changed', async (tx) => {
    const { brand } = (await agencyOf(tx))!.settings;
    await updateSettings(tx, { brand: agencyBrandSchema.parse({ ...brand, [as]: picture }) });
    await markStale(tx, 'all', api.clock.now());
  });

/** The mailbox that is read for what comes back, without its password. */
async function boxView({ store }: Api) {
  const kept = await keptBounceBox(store);
  if (!kept) return null;
  const { secret: _, ...box } = kept;
  const { readAt, trouble } = await boxState(store);
  return { ...box, readAt, trouble };
}

/** How mails go out, as an owner sees it. */
async function mailRulesView(api: Api) {
  const dkim = await keptDkim(api.store);
  return {
    ...(await mailRules(api.store)),
    dkim: dkim && { domain: dkim.domain, selector: dkim.selector, ...dkimRecord(dkim) },
    listens: api.config.bouncePort,
    box: await boxView(api),
    unread: await unreadMails(api.store),
  };
}

export const agencyHandlers: Handlers<
  Extract<
    RouteName,
    `${string} /api/agency${string}` | `${string} /api/services${string}` | `${string} /api/calendars${string}`
  >
> = {
  'GET /api/agency': async ({ api }) => {
    const agency = (await agencyOf(api.store))!;
    const { name, zone, language, weekStart, workingDays, mailFrom, settings } = agency;
    const { postalAddress } = settings;
    return {
      agency: { name, zone, language, weekStart, workingDays, mailFrom, postalAddress },
      settings,
      holidays: agency.namedHolidays,
      mail: { main: await mailView(api, 'main'), notices: await mailView(api, 'notices') },
      mailRules: await mailRulesView(api),
      languages: LOCALES,
      home: { url: homeOf(api), set: api.config.url !== null },
      environment: api.config.environment,
    };
  },

  'PUT /api/agency': async ({ api, session, body }) =>
    changing(api, session, 'agency.changed', (tx, at) => updateAgency(tx, body, at)),

  'PUT /api/agency/holidays': async ({ api, session, body }) =>
    changing(api, session, 'holidays.changed', async (tx, at) => {
      const { workingDays } = (await agencyOf(tx))!;
      await updateCalendar(tx, { workingDays, holidays: body.holidays }, at);
    }),

  'PUT /api/agency/brand': ({ api, session, body }) =>
    changing(api, session, 'default-brand.changed', async (tx) => {
      await checkTypefaces(tx, body.typefaces);
      const { logo, logoDark, cover, mailHead } = (await agencyOf(tx))!.settings.brand;
      await updateSettings(tx, { brand: { ...body, logo, logoDark, cover, mailHead } });
      await followColours(tx, body);
      await markStale(tx, 'all', api.clock.now());
    }),
  'DELETE /api/agency/logo': ({ api, session, query }) => setAgencyPicture(api, session, query.as, null),

  'GET /api/agency/brand/followers': async ({ api }) => reportsOfFollowers(api.store),
  'PUT /api/agency/paper': settingsChange('paper', 'paper.changed'),
  'PUT /api/agency/sign-in': settingsChange('signIn', 'sign-in-rules.changed'),
  'PUT /api/agency/limits': settingsChange('limits', 'limits.changed'),

  'PUT /api/agency/mail/:use': async ({ api, session, params, body }) => {
    const use = useOf(params.use);
    if (use === 'main' && api.config.mailServer) {
      throw new Refusal(409, 'Set by an environment variable (CHRONICON_SMTP). Change it there.');
    }
    const server = await asTyped(api, use, body);
    const { member } = session;
    const notices = createMailer(server, api.config.mode === 'test' ? api.config.smtpWaits : TRY_WAITS);
    const handed = await sendLetter(
      { ...api, notices },
      {
        to: member,
        subject: 'Test email',
        text: `Hello ${member.name},\n\nthis is a test via ${server.host}:${server.port}. It worked – ${
          use === 'main' ? 'reports can be sent this way' : 'emails to members can be sent this way'
        }.`,
      },
    );
    if (handed.kind === 'aborted') throw new Refusal(503, 'The server is stopping. Try again.');
    if (handed.kind === 'server') throw new Refusal(422, `${handed.reason} ${handed.mend} Nothing was saved.`);
    if (handed.kind !== 'accepted') {
      throw new Refusal(
        422,
        `The mail server rejected an email to ${member.email}: ${handed.reply} Nothing was saved.`,
      );
    }
    await changing(api, session, 'mail-server.changed', async (tx, at) => {
      await setMailServer(tx, use, server, api.secrets);
      // It took a mail: what waited for it goes on.
      if (use === 'main') await resumeSending(tx, 'mail-server', { at, actor: member.id });
    });
    return { said: handed.reply, to: member.email };
  },

  'PUT /api/agency/mail-rules': async ({ api, session, body }) =>
    changing(api, session, 'mail-rules.changed', (tx) => setMailRules(tx, body)),

  'PUT /api/agency/bounce-box': async ({ api, session, body }) => {
    const { password: typed, ...asked } = body;
    const kept = await keptBounceBox(api.store);
    // A password that is kept goes to the place for which it was given, and to no other.
    const same = kept && (['host', 'port', 'tls', 'user'] as const).every((key) => kept[key] === asked[key]);
    if (typed === undefined && !same) throw atField('password', 'Enter the mailbox password.');
    const box = { ...asked, password: typed ?? openBox(kept!, api.secrets).password };
    const mails = await tryBox(box).catch((error: unknown) => {
      if (error instanceof BoxError) throw new Refusal(422, `${error.reason} ${error.mend} Nothing was saved.`);
      throw error;
    });
    await changing(api, session, 'bounce-box.changed', (tx) => setBounceBox(tx, box, api.secrets));
    return { mails };
  },

  'DELETE /api/agency/bounce-box': async ({ api, session }) =>
    changing(api, session, 'bounce-box.removed', (tx) => removeBounceBox(tx)),

  'DELETE /api/agency/unread-mails/:mail': async ({ api, session, params }) =>
    changing(api, session, 'unread-mail.removed', async (tx) => {
      if (!(await removeUnreadMail(tx, params.mail))) throw notFound('mail');
    }),

  'POST /api/agency/dkim': async ({ api, session, body }) => {
    const made = await makeDkim(body, api.secrets);
    await changing(api, session, 'dkim.made', (tx) => setDkim(tx, made), `${body.selector}._domainkey.${body.domain}`);
    return dkimRecord(made);
  },

  'DELETE /api/agency/dkim': async ({ api, session }) =>
    changing(api, session, 'dkim.removed', (tx) => setDkim(tx, null)),

  'DELETE /api/agency/mail/:use': async ({ api, session, params }) => {
    const use = useOf(params.use);
    return changing(api, session, 'mail-server.removed', (tx) => removeMailServer(tx, use));
  },

  'GET /api/services': async ({ api }) => {
    const made = await connections(api.store);
    const byEnvironment = api.config.feeds === null ? null : 'CHRONICON_FEEDS';
    const further = await furtherServices(api.store);
    const services = await allServices(api.store);
    return Promise.all(
      services.map(async (kind) => {
        // Further services are set here, whatever the environment says of the first ones.
        const setBy = isFurther(kind) ? null : byEnvironment;
        const kept = await keptRegistration(api.store, kind);
        const used = setBy === null ? kept : await registrationFor(api, kind);
        return {
          kind,
          label: await serviceLabel(api.store, kind),
          name: kept?.name ?? '',
          next: isFurther(kind) ? null : nextService(kind, further),
          address: used?.address ?? null,
          clientId: used?.clientId ?? '',
          hasSecret: setBy === null && (kept?.secret ?? '') !== '',
          setBy,
          connections: made.filter((c) => c.kind === kind).length,
        };
      }),
    );
  },

  'PUT /api/services/:kind': async ({ api, session, params, body }) => {
    const kind = theKind(api, params.kind);
    const kept = await registrationFor(api, kind);
    const same = kept?.clientId === body.clientId && kept.address === body.address.replace(/\/$/, '');
    if (body.clientSecret === undefined && kept && kept.clientSecret !== '' && !same) {
      throw atField('clientSecret', 'Enter the secret for this address and name.');
    }
    if (isFurther(kind) && !body.name) {
      throw atField('name', 'Enter a name to distinguish this service from others of the same kind.');
    }
    const registration = { ...body, clientSecret: body.clientSecret ?? kept?.clientSecret ?? '' };
    const how = await tryRegistration(api, registration).catch((error) => {
      // A service that authorises has to be told who asks.
      if (registration.clientId === '' && error instanceof FeedError && error.kind === 'refused')
        throw atField('clientId', NO_CLIENT_ID);
      return refused(error);
    });
    if (how === 'authorises' && registration.clientId === '') throw atField('clientId', NO_CLIENT_ID);
    return changing(
      api,
      session,
      'service.changed',
      (tx) => keepRegistration({ store: tx, secrets: api.secrets }, kind, registration),
      kind,
    );
  },

  'DELETE /api/services/:kind': async ({ api, session, params }) => {
    const kind = theKind(api, params.kind);
    const using = (await connections(api.store)).filter((c) => c.kind === kind).length;
    if (using > 0) {
      throw new Refusal(409, `${using} connection${using === 1 ? ' was' : 's were'} made by it. Feeds would stop.`);
    }
    return changing(api, session, 'service.removed', (tx) => dropRegistration(tx, kind), kind);
  },

  'GET /api/calendars': async ({ api, session }) =>
    Promise.all((await calendars(api.store)).map((c) => describeCalendar(api, session, c))),

  'POST /api/calendars': async ({ api, session, body }) => {
    const id = newId('ca');
    await changing(api, session, 'calendar.made', (tx, at) => saveCalendar(tx, { ...body, id }, at), id);
    return describeCalendar(api, session, await theCalendar(api.store, id));
  },

  'PUT /api/calendars/:calendar': async ({ api, session, params, body }) => {
    const { id } = await theCalendar(api.store, params.calendar);
    await changing(api, session, 'calendar.changed', (tx, at) => saveCalendar(tx, { ...body, id }, at), id);
    return describeCalendar(api, session, await theCalendar(api.store, id));
  },

  'DELETE /api/calendars/:calendar': async ({ api, session, params }) => {
    const { id, clients, others } = await describeCalendar(api, session, await theCalendar(api.store, params.calendar));
    if (clients.length + others > 0) {
      const named = clients.slice(0, 5).map((c) => c.name);
      const more = clients.length + others - named.length;
      const all = new Intl.ListFormat('en-GB').format([...named, ...(more > 0 ? [`${more} more`] : [])]);
      throw new Refusal(409, `In use: ${all}. Choose another calendar there first.`);
    }
    return changing(api, session, 'calendar.removed', (tx) => removeCalendar(tx, id), id);
  },

  'POST /api/calendars/read': async ({ api, session: { member }, body }) => {
    const { zone } = (await agencyOf(api.store))!;
    const now = api.clock.now();
    const query = { text: body.text, from: `${civilDateAt(now, zone).slice(0, 4)}-01-01` };
    try {
      return new Written(await api.reads.run({ name: 'calendar.read', query, member, now }));
    } catch (error) {
      if (!(error instanceof BudgetError)) throw error;
      // A rule may name a day that never comes: nobody can say beforehand.
      throw atField(
        'text',
        'This calendar takes too long to read. One of its events may repeat too often, or have no date at all.',
      );
    }
  },
};
