import type { ComparisonSpec, PeriodSpec } from '@chronicon/core/calendar';
import {
  comparisonText,
  type FilterPart,
  filterText,
  parseComparison,
  parseFilter,
  parsePeriod,
  periodText,
} from '@chronicon/core/contract/figuresText';

/** One figure that is being questioned. */
export interface Questioned {
  metric: string;
  from: string;
  to: string;
  /** Days of it that are left out. */
  without?: string[];
  filter: FilterPart[];
}

/** Everything that the Figures place shows; it lives in the address alone. */
export interface View {
  metrics: string[];
  by: string | null;
  filter: FilterPart[];
  period: PeriodSpec;
  compare: ComparisonSpec;
  step: string;
  order: 'current' | 'change';
  n: number;
  /** The metric on the chart. */
  chart: string;
  shape: 'line' | 'bars';
  see: 'figures' | 'rhythm' | 'why';
  /** By what the change is divided. */
  whyBy: string | null;
  /** The column by which the table is sorted, `-` before it for the largest first; empty: as it comes. */
  sort: string;
  of: Questioned | null;
}

const LIST = /,/;

/** `visits~2026-10-01..2026-10-31~channel=Email`; with days that are left out, `…-31-2026-10-19,2026-10-20~…` */
export const questionedText = (q: Questioned): string =>
  `${q.metric}~${q.from}..${q.to}${q.without?.length ? `-${q.without.join(',')}` : ''}${q.filter.length > 0 ? `~${filterText(q.filter)}` : ''}`;

export function parseQuestioned(text: string | null): Questioned | null {
  const m = /^(\w+)~(\d{4}-\d\d-\d\d)\.\.(\d{4}-\d\d-\d\d)(?:-([\d,-]+))?(?:~(.*))?$/s.exec(text ?? '');
  const filter = m && parseFilter(m[5] ?? '');
  if (!m || !filter) return null;
  return { metric: m[1]!, from: m[2]!, to: m[3]!, ...(m[4] && { without: m[4].split(',') }), filter };
}

const MONTH: PeriodSpec = { kind: 'unit', unit: 'month', offset: -1 };

/** Reads an address; what is missing or cannot be read is what most people want. */
export function parseView(search: URLSearchParams, first: string): View {
  const metrics = (search.get('metrics') ?? first).split(LIST).filter((k) => k !== '');
  const chart = search.get('chart');
  return {
    metrics,
    by: search.get('by'),
    filter: parseFilter(search.get('filter') ?? '') ?? [],
    period: parsePeriod(search.get('period') ?? '') ?? MONTH,
    compare: parseComparison(search.get('compare') ?? '') ?? { kind: 'previous' },
    step: search.get('step') ?? 'auto',
    order: search.get('order') === 'change' ? 'change' : 'current',
    n: Number(search.get('n')) || 15,
    chart: chart && metrics.includes(chart) ? chart : (metrics[0] ?? ''),
    shape: search.get('shape') === 'bars' ? 'bars' : 'line',
    see: search.get('see') === 'rhythm' ? 'rhythm' : search.get('see') === 'why' ? 'why' : 'figures',
    whyBy: search.get('whyBy'),
    sort: search.get('sort') ?? '',
    of: parseQuestioned(search.get('of')),
  };
}

/** The address of a view, beside what else stands in it; what is as usual is left out. */
export function viewSearch(view: View, before: URLSearchParams): URLSearchParams {
  const next = new URLSearchParams(before);
  const put = (key: string, value: string, usual: string) => {
    if (value === usual) next.delete(key);
    else next.set(key, value);
  };
  next.set('metrics', view.metrics.join(','));
  put('by', view.by ?? '', '');
  put('filter', filterText(view.filter), '');
  put('period', periodText(view.period), periodText(MONTH));
  put('compare', comparisonText(view.compare), 'previous');
  put('step', view.step, 'auto');
  put('order', view.order, 'current');
  put('n', String(view.n), '15');
  put('chart', view.chart, view.metrics[0] ?? '');
  put('shape', view.shape, 'line');
  put('see', view.see, 'figures');
  put('whyBy', view.whyBy ?? '', '');
  put('sort', view.sort, '');
  put('of', view.of ? questionedText(view.of) : '', '');
  return next;
}

/** What is asked of the server for a view. */
export const figuresAsk = (view: View): Record<string, string> => ({
  metrics: view.metrics.join(','),
  ...(view.by && { by: view.by }),
  ...(view.filter.length > 0 && { filter: filterText(view.filter) }),
  period: periodText(view.period),
  compare: comparisonText(view.compare),
  step: view.step,
  n: String(view.n),
  order: view.order,
});
