import { addMinutes, addMonths, civilDateAt, monthEnd, monthStart, weekdayOf } from '@chronicon/core/calendar';
import { PLAIN_CHOICES } from '@chronicon/core/contract';
import { blocksOf, documentFrom, periodCommentariesOf, type ReportDocument } from '@chronicon/core/report';
import { wordsFor } from '@chronicon/core/words';
import {
  type Api,
  assign,
  createAgency,
  createClient,
  createConnection,
  createFeed,
  createMember,
  createReport,
  createSchedule,
  DEMO_MEMBERS,
  DEMO_SERVICE_TOKEN,
  defaultMail,
  feedLabel,
  hashPassword,
  managedBy,
  memberByEmail,
  moveClock,
  newId,
  openServer,
  parseSvgLogo,
  readConfig,
  readSetting,
  releaseReport,
  saveContact,
  saveNote,
  saveSegment,
  saveTarget,
  setMailRules,
  setTags,
  upcomingSends,
  updateMetrics,
  writeCommentary,
  writeSetting,
} from '@chronicon/server';
import { documentOf } from './designs/design.ts';
import { LOGOS } from './logos.ts';
import { LANTERNS } from './pictures.ts';
import { type DemoClient, demoClients } from './scenario.ts';

/** Days of history that really happen: editions are made, mails are sent and kept. */
const HISTORY_DAYS = 36;
const FIRST_DATE = '2026-01-01';

type DemoReport = DemoClient['reports'][number];

/** The report with its own heading; its commentary stands, is written for each month, or is not there at all. */
function worded(document: ReportDocument, r: DemoReport): ReportDocument {
  const [first, ...rest] = document.pages;
  const rows = first!.rows.flatMap((row) => {
    const blocks = row.blocks.flatMap((b): typeof row.blocks => {
      if (b.kind === 'heading') return [{ ...b, text: r.heading ?? b.text }];
      if (b.kind !== 'commentary') return [b];
      if (r.commentary === '') return [];
      return r.stands ? [{ ...b, span: 'standing', text: r.commentary }] : [b];
    });
    return blocks.length > 0 ? [{ ...row, blocks }] : [];
  });
  return { ...document, pages: [{ ...first!, rows }, ...rest] };
}

/** What was said of the last two whole months: the later one at length. The month that is running is still to write. */
async function writeMonths(
  api: Api,
  reportId: string,
  document: ReportDocument,
  text: string,
  by: string,
  today: string,
) {
  const [block] = periodCommentariesOf(document);
  if (!block || text === '') return;
  for (const [back, said] of [
    [1, text],
    [2, `${text.split('. ')[0]!.replace(/\.$/, '')}.`],
  ] as const) {
    const from = addMonths(monthStart(today.slice(0, 10)), -back);
    const period = { from, to: monthEnd(from) };
    await writeCommentary(api.store, { reportId, block, period, text: said, at: api.clock.now(), by });
  }
}

/** What was done last month, in the report's Work log. */
async function writeWork(
  api: Api,
  reportId: string,
  document: ReportDocument,
  done: string[],
  by: string,
  today: string,
) {
  const log = blocksOf(document).find((b) => b.kind === 'workLog');
  if (!log || done.length === 0) return;
  const from = addMonths(monthStart(today.slice(0, 10)), -1);
  const period = { from, to: monthEnd(from) };
  const text = done.join('\n');
  await writeCommentary(api.store, { reportId, block: log.id, period, text, at: api.clock.now(), by });
}

const made = new Map<string, string>();

/** The agency's one connection to a service; all clients' accounts there are read by it. */
async function connectionTo(api: Api, kind: string, madeBy: string): Promise<string> {
  const present = made.get(kind);
  if (present) return present;
  const secret = api.secrets.seal(DEMO_SERVICE_TOKEN);
  const { id } = await createConnection(api.store, { kind, method: 'token', secret, madeBy, at: api.clock.now() });
  made.set(kind, id);
  return id;
}

async function addClient(api: Api, c: DemoClient, members: Map<string, string>, today: string): Promise<void> {
  const { store } = api;
  const at = api.clock.now();
  const [main, second] = c.colours;
  const client = await createClient(
    store,
    {
      name: c.name,
      site: `${c.logo}.example`,
      zone: c.zone,
      currency: c.currency,
      language: c.language,
      weekStart: 1,
      fiscalStart: 1,
      startDate: c.startDate,
    },
    { managerId: members.get(c.manager)!, at, brand: { main, second, footer: '', logo: parseSvgLogo(LOGOS[c.logo]) } },
  );
  await setTags(store, client.id, c.tags);
  const contacts = await Promise.all(
    c.contacts.map(([firstName, lastName, email, silent]) => {
      const consent = silent ? null : { on: c.startDate, by: 'Signed with the order' };
      return saveContact(store, client.id, { firstName, lastName, email, consent }, at);
    }),
  );
  for (const [kind, account] of [['web-analytics', c.account], ...(c.feeds ?? [])] as const) {
    const connectionId = await connectionTo(api, kind, members.get(c.manager)!);
    await createFeed(store, { clientId: client.id, kind, connectionId, account, name: feedLabel(kind), at });
  }
  if (c.metrics) await updateMetrics(store, client.id, c.metrics, at);
  for (const { id, ...segment } of c.segments ?? []) await saveSegment(store, client.id, segment, at, id);
  for (const target of c.targets ?? []) await saveTarget(store, client.id, target, at);
  for (const note of c.notes ?? []) {
    await saveNote(store, client.id, note, { memberId: members.get(c.manager)!, at });
  }
  const reports = new Map<string, string>();
  for (const r of c.reports) {
    const id = () => newId('bl');
    const document = r.design
      ? documentOf(r.design, id)
      : worded(documentFrom(r.starter!, wordsFor(c.language), id), r);
    const report = await createReport(store, { clientId: client.id, title: r.title, document, at });
    const by = members.get(c.manager)!;
    await writeMonths(api, report.id, document, r.commentary, by, today);
    await writeWork(api, report.id, document, r.done ?? [], by, today);
    await releaseReport(store, { id: report.id, version: report.version, at, by });
    reports.set(r.title, report.id);
  }
  for (const s of c.schedules) {
    await createSchedule(
      store,
      client.id,
      {
        ...PLAIN_CHOICES,
        mail: defaultMail(c).mail,
        ...s.choices,
        groups: s.groups
          ? {
              by: s.groups.by,
              without: [],
              groups: Object.entries(s.groups.of).map(([value, people]) => ({
                id: newId('gr'),
                value,
                filter: [],
                readers: people.map((i) => ({ contact: contacts[i]!.id })),
                fileName: '',
                greeting: '',
              })),
            }
          : null,
        assumed: s.assumed ?? {},
        reportId: reports.get(s.report)!,
        rule: s.rule,
        time: s.time,
        zone: c.zone,
        firstDate: FIRST_DATE,
        lastDate: null,
        period: s.period,
        comparison: s.comparison,
        readers: s.readers.map((i) => ({ contact: contacts[i]!.id })),
        subject: s.subject ?? defaultMail(c).subject,
        message: s.message ?? defaultMail(c).message,
      },
      at,
    );
  }
}

/** The reviewer sees the clients of one manager. */
async function showReviewer({ store }: Api): Promise<void> {
  const reviewer = (await memberByEmail(store, 'mirel.oke@fernglass.example'))!;
  const manager = (await memberByEmail(store, 'joren.vask@fernglass.example'))!;
  for (const { id } of (await managedBy(store)).get(manager.id) ?? []) await assign(store, reviewer.id, id);
}

const post = (url: URL, body: unknown) =>
  fetch(url, { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) });

/** Lives through the last weeks, send time by send time, so that all that the demo shows did happen. */
async function liveUntil(api: Api, today: string): Promise<void> {
  const dayBefore = addMinutes(today, -24 * 60);
  let broken = false;
  for (;;) {
    const next = (await upcomingSends(api))[0];
    if (!broken && (next === undefined || next > dayBefore)) {
      // Since yesterday, Skerrybound's service refuses its token, and one of Oatmere's readers has left.
      await moveClock(api, dayBefore);
      await post(new URL('/admin/accounts/wa-2041', api.config.simulators!), { fault: 'refused' });
      await post(new URL('/admin/mail', api.config.simulators!), { refused: ['l.harrow@oatmere.example'] });
      broken = true;
      continue;
    }
    // What goes in this very minute is left to whoever looks on.
    if (next === undefined || addMinutes(next, 1) > today) break;
    await moveClock(api, addMinutes(next, 1));
  }
  // On a busy machine the clock has gone past it by itself.
  if (api.clock.now() < today) await moveClock(api, today);
}

/** Fills an empty data folder with Fernglass Media and its last five weeks. */
async function seed(): Promise<void> {
  const config = { ...readConfig({ ...process.env, CHRONICON_MODE: 'demo' }), log: 'warn' as const };
  const today = config.today ?? new Date().toISOString();
  const start = addMinutes(today, -HISTORY_DAYS * 24 * 60);
  const api = await openServer({ ...config, today: start });
  try {
    if (await readSetting(api.store, 'demo.ready')) return;
    await createAgency(api.store, {
      name: 'Fernglass Media',
      zone: 'Europe/London',
      mailFrom: 'reports@fernglass.example',
      holidays: ['2026-12-25', '2026-12-28', '2027-01-01'],
      workingDays: [1, 2, 3, 4, 5],
    });
    await setMailRules(api.store, { bounces: 'bounces@fernglass.example', perMinute: null, quiet: null });
    const members = new Map<string, string>();
    for (const { password, ...m } of DEMO_MEMBERS) {
      const member = await createMember(api.store, { ...m, password: await hashPassword(password), at: start });
      members.set(m.email, member.id);
    }
    const date = civilDateAt(today, 'Atlantic/Faroe');
    const clients = demoClients(weekdayOf(date), date, parseSvgLogo(LANTERNS));
    for (const client of clients) await addClient(api, client, members, today);
    await showReviewer(api);
    console.log('  fetching three years of figures for six clients');
    await moveClock(api, addMinutes(start, 5));
    console.log('  living through the last five weeks: editions are drawn, mails are sent');
    await liveUntil(api, today);
    await writeSetting(api.store, 'clock.offset', String(config.today === null ? 0 : api.clock.offset));
    await writeSetting(api.store, 'demo.ready', today);
  } finally {
    await api.shut();
  }
}

await seed();
