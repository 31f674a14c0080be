import { ownOf } from '@chronicon/core/bounds';
import type { Range } from '@chronicon/core/calendar';
import type { FigureQuery, FilterPart, MetricOffer, RouteName } from '@chronicon/core/contract';
import {
  type Aggregation,
  type CountedRange,
  DIMENSION_KEYS,
  type Field,
  isKnown,
  keyOf,
  keysOf,
  type MetricBook,
  measuresOf,
  na,
  parseFormula,
  partOf,
  type Question,
  STANDARD,
  valueOfAnswer,
} from '@chronicon/core/figures';
import { settleDates } from '@chronicon/core/report';
import { formatterOf, measureName, ownName, whySentence, withOwnNames } from '@chronicon/core/words';
import { datasetsOf } from '../facts/factReader.ts';
import { uniquesFor } from '../feeds/uniques.ts';
import { allLabels, type ClientFigures, checkMetrics, figuresOf, settleFilter, viewOf } from '../figures/ask.ts';
import { dimensionsOf, isAvailable } from '../figures/available.ts';
import { englishFor, metricHead, namedRange } from '../figures/english.ts';
import { type OneFigure, ROWS_A_PAGE } from '../figures/reading.ts';
import { atField } from '../platform/refusal.ts';
import { feedsOf } from '../store/feeds.ts';
import { theClient } from './access.ts';
import type { Api, Handlers } from './context.ts';

const FIELD_LABELS: Record<Field, string> = {
  web: 'Website',
  shop: 'Shop',
  leads: 'Enquiries',
  ads: 'Paid ads',
  social: 'Social',
  email: 'Email',
  calls: 'Calls',
  listings: 'Local listings',
  upkeep: 'Site upkeep',
  search: 'Search positions',
  own: 'The client’s own',
};

/** A metric as it is made, in names; what stands in it are its inputs. */
function formulaWords(a: Aggregation, name: (part: string) => string): string {
  switch (a.kind) {
    case 'sum':
      return `the sum of ${name(a.measure)} of all rows`;
    case 'min':
      return `the smallest day of ${name(a.measure)}`;
    case 'max':
      return `the largest day of ${name(a.measure)}`;
    case 'unique':
      return 'counted by the service for this exact period (daily values can’t be summed)';
    case 'level':
      return a.net
        ? `${name(a.measure)} on the last day, minus the day before the first`
        : `the last known ${name(a.measure)}, at most 7 days old`;
    case 'ratio':
      return `${name(a.num)} ÷ ${name(a.den)}`;
    case 'weighted':
      return `Σ (${name(a.measure)} × ${name(a.weight)}) ÷ ${name(a.weight)}`;
    case 'derived': {
      const parsed = parseFormula(a.formula);
      if (!parsed.ok) return a.formula;
      let text = '';
      let at = 0;
      for (const { key, at: start } of keysOf(parsed.tree)) {
        text += a.formula.slice(at, start) + name(key);
        at = start + key.length;
      }
      return (text + a.formula.slice(at)).replaceAll('*', '×').replaceAll('/', '÷').replaceAll('-', '−');
    }
  }
}

/** A range without some of its days. */
const excludedFrom = ({ from, to }: Range, without: readonly string[]): CountedRange =>
  partOf(
    { from, to, ...(without.length > 0 && { without: [...new Set(without)].sort().map((day) => ({ day })) }) },
    { from, to },
  );

async function oneFigure(api: Api, figures: ClientFigures, query: FigureQuery): Promise<OneFigure> {
  checkMetrics([query.metric], figures, 'metric');
  if (query.from > query.to) throw atField('to', 'The end date is before the start date.');
  return {
    metric: query.metric,
    range: excludedFrom(query, query.without),
    filter: await settleFilter(api, figures.client.id, query.filter),
  };
}

const readsOf = (key: string, book: MetricBook): { measure: string; from: string }[] => {
  if (!STANDARD.has(key)) return [];
  const [was, is] = [STANDARD.lookup(key), book.lookup(key)];
  if (was.kind === 'derived' || is.kind === 'derived') return [];
  const standard = measuresOf(was);
  const now = measuresOf(is, book.lookup);
  return standard.map((measure, i) => ({ measure, from: now[i]! }));
};

const WEEKDAYS = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday'];

/** Why a change has no sentence to divide it by: in words of the interface. */
const lackOf = (found: unknown, reasons: Record<string, string>): string | null =>
  typeof found === 'object' && found !== null && 'na' in found ? (reasons[String(found.na)] ?? null) : null;

export const figuresHandlers: Handlers<
  Extract<
    RouteName,
    'GET /api/clients/:client/metrics' | 'GET /api/clients/:client/labels' | `GET /api/clients/:client/figures${string}`
  >
> = {
  'GET /api/clients/:client/metrics': async ({ api, session, params }) => {
    const figures = await figuresOf(api, await theClient(api.store, session.member, params.client));
    const { book } = figures.knowledge;
    const english = englishFor(figures.client);
    const shapes = await datasetsOf(api.facts, figures.client.id);
    const dimensions = new Set([...DIMENSION_KEYS, ...shapes.flatMap((s) => [...s.dimensions])]);
    return {
      metrics: book.metrics.map(
        (m): MetricOffer => ({
          ...metricHead(m, book, english),
          field: m.field,
          fieldLabel: FIELD_LABELS[m.field],
          standardLabel: ownOf(english.words.metrics, m.key) ?? m.label ?? m.key,
          formula: m.aggregation.kind === 'derived' ? m.aggregation.formula : null,
          shared: figures.client.metrics.own.some((o) => o.key === m.key && o.shared === true),
          changed: figures.client.metrics.changed[m.key] !== undefined,
          available: isAvailable(m.aggregation, shapes, book),
          dimensions: dimensionsOf(m, shapes, book),
          reads: readsOf(m.key, book),
        }),
      ),
      dimensions: [...dimensions].map((key) => ({ key, label: english.words.dimensions[key] ?? key })),
      measures: [...new Set(shapes.flatMap((s) => [...s.measures]))].sort(),
    };
  },

  'GET /api/clients/:client/labels': async ({ api, session, params, query }) => {
    const client = await theClient(api.store, session.member, params.client);
    const wanted = query.text.trim().toLowerCase();
    const all = await allLabels(api, await datasetsOf(api.facts, client.id), query.dimension);
    const found = all.filter((l) => l.toLowerCase().includes(wanted));
    return { labels: found.slice(0, 100), more: found.length > 100 };
  },

  'GET /api/clients/:client/figures': async ({ api, session, params, query }) =>
    api.workers.figures(
      await viewOf(api, await figuresOf(api, await theClient(api.store, session.member, params.client)), query),
    ),

  'GET /api/clients/:client/figures/rhythm': async ({ api, session, params, query }) => {
    const figures = await figuresOf(api, await theClient(api.store, session.member, params.client));
    const figure = await oneFigure(api, figures, query);
    const { book } = figures.knowledge;
    const english = englishFor(figures.client);
    const { weekStart } = figures.client;
    const q: Question = { op: 'rhythm', ...figure, weekStart };
    const found = (await api.workers.ask(figures.basis, [q])).answers[keyOf(q)];
    const rhythm = found?.op === 'rhythm' ? found.rhythm : null;
    return {
      metric: metricHead(book.of(figure.metric), book, english),
      weekdays: WEEKDAYS.map((_, i) => WEEKDAYS[(weekStart - 1 + i) % 7]!),
      rhythm: rhythm && !('na' in rhythm) ? rhythm : null,
      lack: lackOf(rhythm, english.words.reasons),
    };
  },

  'GET /api/clients/:client/figures/explain': async ({ api, session, params, query }) => {
    const figures = await figuresOf(api, await theClient(api.store, session.member, params.client));
    const figure = await oneFigure(api, figures, query);
    const { book } = figures.knowledge;
    const english = englishFor(figures.client);
    await uniquesFor(api, figures.client.id, [{ op: 'total', ...figure }], figures.knowledge);
    const found = await api.workers.explain(figures.basis, figure);
    const feeds = await feedsOf(api.store, figures.client.id);
    const metric = book.of(figure.metric);
    const nameOf = (part: string) => {
      const input = found.inputs.find((i) => i.measure === part);
      return input?.metric ? book.labelOf(input.metric, english.words.metrics) : measureName(part);
    };
    return {
      metric: metricHead(metric, book, english),
      value: found.value,
      range: namedRange(figure.range, english),
      formula: formulaWords(metric.aggregation, nameOf),
      inputs: found.inputs.map((i) => ({
        label: nameOf(i.measure),
        unit: i.metric ? book.of(i.metric).unit : 'count',
        value: i.value,
      })),
      filter: query.filter.map((p: FilterPart) => ({
        ...p,
        values: [...p.values],
        label: english.words.dimensions[p.dimension] ?? p.dimension,
      })),
      sources: found.sources.map((s) => ({
        dataset: s.name,
        feed: feeds.find((f) => f.id === s.feedId)?.name ?? 'a deleted feed',
        days: s.days,
        delivered: s.delivered,
        missing: s.missing,
        firstDay: s.firstDay,
        fetches: [...s.fetches].sort((a, b) => (a.at < b.at ? 1 : a.at > b.at ? -1 : 0)),
        rows: s.rows,
      })),
    };
  },

  'GET /api/clients/:client/figures/rows': async ({ api, session, params, query }) => {
    const figures = await figuresOf(api, await theClient(api.store, session.member, params.client));
    const figure = await oneFigure(api, figures, query);
    const { words } = englishFor(figures.client);
    const found = await api.workers.rows(figures.basis, figure, query.source, query.page);
    const [day, ...rest] = found.columns;
    return {
      ...found,
      columns: day === undefined ? [] : ['Day', ...rest.map((c) => words.dimensions[c] ?? measureName(c))],
      pageSize: ROWS_A_PAGE,
    };
  },

  'GET /api/clients/:client/figures/why': async ({ api, session, params, query }) => {
    const figures = await figuresOf(api, await theClient(api.store, session.member, params.client));
    checkMetrics([query.metric], figures, 'metric');
    const { client, knowledge } = figures;
    const english = englishFor(client);
    const own = withOwnNames(formatterOf(client.language, client.currency), client.metrics.names);
    const { period, compared } = settleDates(query.period, query.compare, figures.today, client);
    const filter = await settleFilter(api, client.id, query.filter);
    const metric = knowledge.book.of(query.metric);
    const head = metricHead(metric, knowledge.book, english);
    const total = (range: CountedRange): Question => ({ op: 'total', metric: metric.key, range, filter });
    const drivers: Question | null = compared && {
      op: 'drivers',
      metric: metric.key,
      dimension: query.by,
      range: period,
      compared,
      filter,
    };
    const questions = [total(period), ...(compared && drivers ? [total(compared), drivers] : [])];
    await uniquesFor(api, client.id, questions, knowledge);
    const { answers } = await api.workers.ask(figures.basis, questions);
    const valueOfQuestion = (q: Question) => valueOfAnswer(answers[keyOf(q)]) ?? na('no-data');
    const current = valueOfQuestion(total(period));
    const before = compared ? valueOfQuestion(total(compared)) : null;
    const a = drivers && answers[keyOf(drivers)];
    const found = a?.op === 'drivers' ? a.drivers : null;
    const label = knowledge.book.labelOf(metric.key, own.words.metrics);
    const isThere = found !== null && !('na' in found) && before !== null && isKnown(before);
    return {
      metric: head,
      period: namedRange(period, english),
      compared: compared && namedRange(compared, english),
      current,
      before,
      sentence: before
        ? whySentence(
            {
              metric,
              label,
              current,
              compared: before,
              comparedDates: compared ? own.range(compared) : undefined,
              drivers: found,
              dimension: drivers?.dimension,
            },
            own,
          )
        : '',
      language: client.language,
      drivers: isThere
        ? {
            kind: found.kind,
            change: found.change,
            residual: found.residual,
            items: found.items.slice(0, 200).map((item) => {
              const name = ownName(client.metrics.names, query.by, item.label);
              return name === undefined ? item : { ...item, name };
            }),
          }
        : null,
      lack: compared === null ? 'no dates to compare' : lackOf(found, english.words.reasons),
    };
  },
};
