import { MOST_OWN_METRICS } from '@chronicon/core/bounds';
import { checkOwnMetric, keysOf, metricBook, NO_SETTINGS, type OwnMetric, parseFormula } from '@chronicon/core/figures';
import { blockKind, blocksOf, metricsNamed } from '@chronicon/core/report';
import type { Session } from '../access/sessions.ts';
import { atField, Refusal } from '../platform/refusal.ts';
import { clientById, clientsNaming, clientWithMetric, sharedMetrics, updateSharedMetrics } from '../store/clients.ts';
import { record } from '../store/ledger.ts';
import { reportsNaming } from '../store/reports.ts';
import { mailsNaming } from '../store/schedules.ts';
import { inTransaction, type Store } from '../store/store.ts';
import { clientWithTarget } from '../store/targets.ts';
import type { Api } from './context.ts';

/** @throws Refusal for whoever is no owner: what all clients have is not one person's to change */
function ownersAlone(session: Session): void {
  if (session.member.role !== 'owner')
    throw new Refusal(403, 'This metric is for all clients: ask an owner to change it.');
}

/** @throws Refusal where its formula is no good for every client, or its key is another's */
async function check(db: Store, metric: OwnMetric, others: readonly OwnMetric[]): Promise<void> {
  const fault = checkOwnMetric(metric, metricBook({ ...NO_SETTINGS, own: [...others] }), []);
  if (fault)
    throw atField(
      'formula',
      `At character ${fault.at + 1}: ${fault.message} For all clients, it can use only standard metrics and other agency metrics.`,
    );
  const client = await clientWithMetric(db, metric.key);
  if (client !== null) throw atField('key', `${client} has its own metric with this key.`);
  // Formulas that name it would read the number, not the metric.
  const naming = await reportsNaming(db, metric.key, null);
  const assuming = naming.find((r) => r.document.assumptions?.some((a) => a.key === metric.key));
  if (assuming) throw atField('key', `The report ${assuming.title} has an assumption with this key.`);
}

const reads = (formula: string, key: string): boolean => {
  const parsed = parseFormula(formula);
  return parsed.ok && keysOf(parsed.tree).some((k) => k.key === key);
};

/** Where any client uses it, in words; null when nowhere. */
async function useOfShared(db: Store, key: string): Promise<string | null> {
  const nameOf = async (id: string) => (await clientById(db, id))?.name ?? '';
  for (const report of await reportsNaming(db, key, null)) {
    const documents = [report.document, ...(report.release ? [report.release.document] : [])];
    if (documents.flatMap(blocksOf).some((b) => blockKind(b).metricsOf(b).includes(key)))
      return `the report ${report.title} of ${await nameOf(report.clientId)}`;
  }
  const other = (await sharedMetrics(db)).find((m) => m.key !== key && reads(m.formula, key));
  if (other) return `the metric ${other.label}`;
  for (const client of await clientsNaming(db, key)) {
    const own = client.metrics.own.find((m) => !m.shared && reads(m.formula, key));
    if (own) return `the metric ${own.label} of ${client.name}`;
  }
  const target = await clientWithTarget(db, key);
  if (target !== null) return `a target of ${await nameOf(target)}`;
  const mails = await mailsNaming(db, key);
  const mail = mails.find((m) => [m.subject, m.message].some((text) => metricsNamed(text).includes(key)));
  return mail ? `the email of a schedule of ${await nameOf(mail.clientId)}` : null;
}

async function change(
  api: Api,
  session: Session,
  key: string,
  make: (tx: Store, all: OwnMetric[]) => Promise<OwnMetric[]>,
) {
  ownersAlone(session);
  const at = api.clock.now();
  await inTransaction(api.store, async (tx) => {
    await updateSharedMetrics(tx, await make(tx, await sharedMetrics(tx)), at);
    const detail = { metric: key };
    await record(tx, { at, actor: session.member.id, action: 'shared-metric.changed', subject: 'agency', detail });
  });
  api.scheduler.nudge();
  return { done: true } as const;
}

/** A new metric for all clients that have what it is made from. */
export const addShared = (api: Api, session: Session, metric: OwnMetric) =>
  change(api, session, metric.key, async (tx, all) => {
    if (all.some((m) => m.key === metric.key) || metricBook(NO_SETTINGS).has(metric.key))
      throw atField('key', 'A metric with this key already exists.');
    if (all.length >= MOST_OWN_METRICS) throw atField('key', `Limit reached: ${MOST_OWN_METRICS} agency metrics.`);
    await check(tx, metric, all);
    return [...all, metric];
  });

/** Another formula, name or sense of one: every client's follow. */
export const changeShared = (api: Api, session: Session, metric: OwnMetric) =>
  change(api, session, metric.key, async (tx, all) => {
    const others = all.map((m) => (m.key === metric.key ? metric : m));
    await check(tx, metric, others);
    return others;
  });

/** Takes one away that nobody uses. */
export const removeShared = (api: Api, session: Session, key: string) =>
  change(api, session, key, async (tx, all) => {
    const use = await useOfShared(tx, key);
    if (use) throw atField('metric', `In use: ${use}. Remove it there first.`);
    return all.filter((m) => m.key !== key);
  });
