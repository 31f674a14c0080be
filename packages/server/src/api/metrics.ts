import { MOST_OWN_METRICS, MOST_OWN_NAMES } from '@chronicon/core/bounds';
import { resolveComparison, resolvePeriod } from '@chronicon/core/calendar';
import type { RouteName } from '@chronicon/core/contract';
import {
  assume,
  checkOwnMetric,
  type FormulaFault,
  isKnown,
  keyOf,
  keysOf,
  type MetricSettings,
  metricBook,
  na,
  type OwnMetric,
  parseFormula,
  type Question,
  STANDARD,
  valueOfAnswer,
} from '@chronicon/core/figures';
import { assumedBy, blockKind, blocksOf, type DayNote, metricsNamed } from '@chronicon/core/report';
import { datasetsOf } from '../facts/factReader.ts';
import { storedShapes } from '../facts/factStore.ts';
import { figuresOf } from '../figures/ask.ts';
import { assumptionsOf } from '../figures/assumptions.ts';
import { englishFor } from '../figures/english.ts';
import { atField, notFound } from '../platform/refusal.ts';
import { type StoredClient, updateMetrics } from '../store/clients.ts';
import { notesOf, removeNote, saveNote } from '../store/dayNotes.ts';
import { feedsOf } from '../store/feeds.ts';
import { record } from '../store/ledger.ts';
import { reportsOf } from '../store/reports.ts';
import { schedulesOf } from '../store/schedules.ts';
import { inTransaction } from '../store/store.ts';
import { targetsOf } from '../store/targets.ts';
import { theClient } from './access.ts';
import type { Api, Handlers } from './context.ts';
import { addShared, changeShared, removeShared } from './sharedMetrics.ts';

const inWords = (fault: FormulaFault): string => `At character ${fault.at + 1}: ${fault.message}`;

/** The client's metrics without one of its own: what that one may be made from. */
const bookWithout = (client: StoredClient, key: string) =>
  metricBook({ ...client.metrics, own: client.metrics.own.filter((m) => m.key !== key) });

/** What keeps a formula from being saved beside the client's metrics and its reports' assumptions; null for nothing. */
async function checkFormulaOf(
  api: Api,
  client: StoredClient,
  metric: Pick<OwnMetric, 'key' | 'formula'>,
): Promise<FormulaFault | null> {
  const assumptions = await assumptionsOf(api.store, client.id);
  const assumed = { ...client, metrics: assume(client.metrics, assumedBy(assumptions)) };
  // Its own formula as it is now: a circle through others that name it has to be seen.
  const others = client.metrics.own.some((m) => m.key === metric.key)
    ? metricBook({
        ...assumed.metrics,
        own: assumed.metrics.own.map((m) => (m.key === metric.key ? { ...m, formula: metric.formula } : m)),
      })
    : bookWithout(assumed, metric.key);
  return checkOwnMetric(metric, others, assumptions);
}

async function refuseFormulaOf(api: Api, client: StoredClient, metric: Pick<OwnMetric, 'key' | 'formula'>) {
  const fault = await checkFormulaOf(api, client, metric);
  if (fault) throw atField('formula', inWords(fault));
}

/** Where a metric is used, in words; null when nowhere. */
async function useOf(api: Api, client: StoredClient, key: string): Promise<string | null> {
  for (const report of await reportsOf(api.store, client.id)) {
    const documents = [report.document, ...(report.release ? [report.release.document] : [])];
    if (documents.flatMap(blocksOf).some((b) => blockKind(b).metricsOf(b).includes(key)))
      return `the report ${report.title}`;
  }
  const other = client.metrics.own.find((m) => {
    const parsed = parseFormula(m.formula);
    return m.key !== key && parsed.ok && keysOf(parsed.tree).some((k) => k.key === key);
  });
  if (other) return `the metric ${other.label}`;
  const read = client.metrics.own.find((m) => m.key === key)?.measure?.key;
  for (const feed of read === undefined ? [] : await feedsOf(api.store, client.id)) {
    const shapes = await storedShapes(api.facts, feed.id);
    if (shapes.some((s) => s.measures.includes(read!))) return `the feed ${feed.name}`;
  }
  if ((await targetsOf(api.store, client.id)).some((t) => t.metric === key)) return 'a target';
  const mail = (await schedulesOf(api.store, client.id)).find((s) =>
    [s.subject, s.message].some((text) => metricsNamed(text).includes(key)),
  );
  return mail ? 'the email of a schedule' : null;
}

async function save(api: Api, client: StoredClient, memberId: string, metrics: MetricSettings, key: string) {
  const at = api.clock.now();
  await inTransaction(api.store, async (tx) => {
    await updateMetrics(tx, client.id, metrics, at);
    await record(tx, { at, actor: memberId, action: 'metric.changed', subject: client.id, detail: { metric: key } });
  });
  api.scheduler.nudge();
  return { done: true } as const;
}

async function theNote(api: Api, clientId: string, id: string): Promise<void> {
  if (!(await notesOf(api.store, clientId)).some((n) => n.id === id)) throw notFound('note');
}

async function keepNote(
  api: Api,
  clientId: string,
  memberId: string,
  input: DayNote & { id?: string; inReports: boolean },
) {
  const at = api.clock.now();
  const saved = await inTransaction(api.store, async (tx) => {
    const note = await saveNote(tx, clientId, input, { memberId, at });
    await record(tx, { at, actor: memberId, action: 'note.saved', subject: note.id, detail: { client: clientId } });
    return note;
  });
  api.scheduler.nudge();
  const { madeBy: _, ...note } = saved;
  return note;
}

export const metricHandlers: Handlers<
  Extract<
    RouteName,
    | `${'PUT' | 'DELETE'} /api/clients/:client/metrics/:metric`
    | `${string}/own-metrics${string}`
    | `${string}/:client/names`
    | `${string}/notes${string}`
  >
> = {
  'GET /api/clients/:client/names': async ({ api, session, params }) =>
    (await theClient(api.store, session.member, params.client)).metrics.names ?? {},

  'PUT /api/clients/:client/names': async ({ api, session, params, body }) => {
    const client = await theClient(api.store, session.member, params.client);
    const { dimension, label, name } = body;
    const { [label]: _, ...rest } = client.metrics.names?.[dimension] ?? {};
    const { [dimension]: __, ...others } = client.metrics.names ?? {};
    const named = name === '' ? rest : { ...rest, [label]: name };
    const names = Object.keys(named).length === 0 ? others : { ...others, [dimension]: named };
    if (Object.values(names).reduce((n, of) => n + Object.keys(of).length, 0) > MOST_OWN_NAMES)
      throw atField('name', `A client has at most ${MOST_OWN_NAMES} renamed values.`);
    return save(api, client, session.member.id, { ...client.metrics, names }, `${dimension} ${label}`);
  },

  'PUT /api/clients/:client/metrics/:metric': async ({ api, session, params, body }) => {
    const client = await theClient(api.store, session.member, params.client);
    const key = params.metric;
    if (!STANDARD.has(key)) throw notFound('standard metric');
    const offered = new Set((await datasetsOf(api.facts, client.id)).flatMap((s) => [...s.measures]));
    const reads = Object.fromEntries(Object.entries(body.reads).filter(([from, to]) => from !== to));
    for (const to of Object.values(reads)) {
      if (!offered.has(to)) throw atField('reads', `No feed of this client provides ${to}.`);
    }
    const standard = STANDARD.of(key);
    const change = {
      ...(body.label !== '' && { label: body.label }),
      ...(body.polarity !== standard.polarity && { polarity: body.polarity }),
      ...(Object.keys(reads).length > 0 && { reads }),
    };
    const { [key]: _, ...others } = client.metrics.changed;
    const changed = Object.keys(change).length > 0 ? { ...others, [key]: change } : others;
    return save(api, client, session.member.id, { ...client.metrics, changed }, key);
  },

  'DELETE /api/clients/:client/metrics/:metric': async ({ api, session, params }) => {
    const client = await theClient(api.store, session.member, params.client);
    if (!STANDARD.has(params.metric)) throw notFound('standard metric');
    const { [params.metric]: _, ...changed } = client.metrics.changed;
    return save(api, client, session.member.id, { ...client.metrics, changed }, params.metric);
  },

  'POST /api/clients/:client/own-metrics/try': async ({ api, session, params, body }) => {
    const client = await theClient(api.store, session.member, params.client);
    const none = { fault: null, results: null, inputs: [] };
    if (body.formula.trim() === '') return none;
    const key = body.key || 'newMetric';
    const fault = await checkFormulaOf(api, client, { key, formula: body.formula });
    if (fault) return { ...none, fault: { at: fault.at, message: fault.message } };
    const own: OwnMetric = {
      key,
      label: key,
      unit: body.unit,
      polarity: 'neutral',
      formula: body.formula,
      definition: '',
    };
    const metrics = { ...client.metrics, own: [...client.metrics.own.filter((m) => m.key !== key), own] };
    const figures = await figuresOf(api, { ...client, metrics });
    const english = englishFor(client);
    const month = { kind: 'unit', unit: 'month', offset: -1 } as const;
    const period = resolvePeriod(month, figures.today, client);
    const before = resolveComparison({ kind: 'previous' }, month, figures.today, client.startDate, client);
    const ranges = [period, ...(before.kind === 'range' ? [before.range] : [])];
    const parsed = parseFormula(body.formula);
    const inputs = parsed.ok ? [...new Set(keysOf(parsed.tree).map((k) => k.key))] : [];
    const total = (metric: string, range: typeof period): Question => ({ op: 'total', metric, range, filter: {} });
    const questions = [...ranges.map((r) => total(key, r)), ...inputs.map((i) => total(i, period))];
    const { answers } = await api.workers.ask(figures.basis, questions);
    const text = (metric: string, range: typeof period) => {
      const value = valueOfAnswer(answers[keyOf(total(metric, range))]) ?? na('no-data');
      const unit = figures.knowledge.book.of(metric).unit;
      return isKnown(value) ? english.cell(value.value, unit) : english.words.reasons[value.na];
    };
    return {
      fault: null,
      results: ranges.map((r) => ({ label: english.range(r), text: text(key, r) })),
      inputs: inputs.map((i) => ({
        label: figures.knowledge.book.labelOf(i, english.words.metrics),
        text: text(i, period),
      })),
    };
  },

  'POST /api/clients/:client/own-metrics': async ({ api, session, params, body }) => {
    const client = await theClient(api.store, session.member, params.client);
    const { shared, ...metric } = body;
    if (shared) return addShared(api, session, metric);
    if (metricBook(client.metrics).has(body.key)) throw atField('key', 'A metric with this key already exists.');
    // Formulas that name it would read the number, not the metric.
    if ((await assumptionsOf(api.store, client.id)).some((a) => a.key === body.key))
      throw atField('key', 'A report of this client has an assumption with this key.');
    if (client.metrics.own.filter((m) => !m.shared).length >= MOST_OWN_METRICS) {
      throw atField('key', `A client has at most ${MOST_OWN_METRICS} metrics of its own.`);
    }
    await refuseFormulaOf(api, client, metric);
    return save(api, client, session.member.id, { ...client.metrics, own: [...client.metrics.own, metric] }, body.key);
  },

  'PUT /api/clients/:client/own-metrics/:metric': async ({ api, session, params, body }) => {
    const client = await theClient(api.store, session.member, params.client);
    const before = client.metrics.own.find((m) => m.key === params.metric);
    if (!before) throw notFound('metric of the client’s own');
    const { measure } = before;
    const metric: OwnMetric = { ...body, key: params.metric, ...(measure && { measure, formula: '' }) };
    if (before.shared) return changeShared(api, session, metric);
    if (!measure) await refuseFormulaOf(api, client, metric);
    const own = client.metrics.own.map((m) => (m.key === metric.key ? metric : m));
    return save(api, client, session.member.id, { ...client.metrics, own }, metric.key);
  },

  'DELETE /api/clients/:client/own-metrics/:metric': async ({ api, session, params }) => {
    const client = await theClient(api.store, session.member, params.client);
    const metric = client.metrics.own.find((m) => m.key === params.metric);
    if (!metric) throw notFound('metric of the client’s own');
    if (metric.shared) return removeShared(api, session, metric.key);
    const use = await useOf(api, client, params.metric);
    if (use) throw atField('metric', `In use: ${use}. Remove it there first.`);
    const own = client.metrics.own.filter((m) => m.key !== params.metric);
    return save(api, client, session.member.id, { ...client.metrics, own }, params.metric);
  },

  'GET /api/clients/:client/notes': async ({ api, session, params }) => {
    await theClient(api.store, session.member, params.client);
    return (await notesOf(api.store, params.client)).map(({ madeBy: _, ...n }) => n);
  },

  'POST /api/clients/:client/notes': async ({ api, session, params, body }) => {
    await theClient(api.store, session.member, params.client);
    return keepNote(api, params.client, session.member.id, body);
  },

  'PUT /api/clients/:client/notes/:note': async ({ api, session, params, body }) => {
    await theClient(api.store, session.member, params.client);
    await theNote(api, params.client, params.note);
    return keepNote(api, params.client, session.member.id, { ...body, id: params.note });
  },

  'DELETE /api/clients/:client/notes/:note': async ({ api, session, params }) => {
    await theClient(api.store, session.member, params.client);
    await theNote(api, params.client, params.note);
    const at = api.clock.now();
    await inTransaction(api.store, async (tx) => {
      await removeNote(tx, params.client, params.note, at);
      const detail = { client: params.client };
      await record(tx, { at, actor: session.member.id, action: 'note.removed', subject: params.note, detail });
    });
    api.scheduler.nudge();
    return { done: true };
  },
};
