import type { Reason } from '../figures/index.ts';

/**
 * What a report says in one language. One file a language, registered in registry.ts.
 * `{name}` in a text stands for a value that the composer puts there.
 */
export interface Words {
  /** Metric labels by key, as a reader would say them. */
  metrics: Record<string, string>;
  dimensions: Record<string, string>;
  /** Whether nouns within a sentence begin small. */
  smallNouns: boolean;
  /** Headings and page titles that a new report begins with, by key. */
  starters: Record<string, string>;
  better: string;
  worse: string;
  steady: string;
  changed: string;
  fresh: string;
  /** `{value}` */
  from: string;
  /** `{label}` */
  comparedWith: string;
  points: string;
  /** `{metric}` */
  perDay: string;
  other: string;
  /** `{dimension}`: the head of a total row. */
  all: string;
  change: string;
  /** `{agency}`, `{client}` */
  preparedBy: string;
  /** `{n}`, `{of}` */
  page: string;
  /** `{n}`: a quarter's name without its year. */
  quarter: string;
  notes: string;
  /** `{days}`, `{compared}` */
  noteLengths: string;
  /** `{range}` */
  noteBeforeStart: string;
  noteRounding: string;
  /** `{dimension}`, `{metric}`: the title of a ranking that has none of its own. */
  rankingTitle: string;
  /** `{metric}`: what brought its change. */
  driversTitle: string;
  driversNote: string;
  /** `{title}`, `{low}`, `{high}`: alternative text of a line chart. */
  chartText: string;
  reasons: Record<Reason, string>;
  mail: {
    /** `{title}`, `{period}` */
    attached: string;
  };
}
