import {
  type Agreement,
  agree,
  type Change,
  changeOf,
  isTold,
  type Numbers,
  printedPoints,
  REASONS,
} from '@chronicon/core/contract/display';
import type { MetricUnit, Polarity, Value } from '@chronicon/core/figures';
import { plainDate } from '../../parts/when.ts';

export interface MetricHead {
  key: string;
  label: string;
  unit: MetricUnit;
  polarity: Polarity;
  definition: string;
  divides: boolean;
}

/** A value in words: the number, or why there is none. */
export const valueText = (v: Value | null, unit: MetricUnit, numbers: Numbers): string =>
  v === null ? '' : 'na' in v ? REASONS[v.na] : numbers.cell(v.value, unit);

export const numberOf = (v: Value | null): number | null => (v && 'value' in v ? v.value : null);

/** A figure as it stands large, and what it is held against, so that both agree with their change. */
export function totalTexts(
  current: Value,
  compared: Value | null,
  metric: Pick<MetricHead, 'unit' | 'polarity'>,
  numbers: Numbers,
): { current: string; compared: string; moved: ChangeWords | null } {
  const change = compared && changeOf(current, compared, metric.unit, metric.polarity);
  const agreement = agree(current, compared, change, metric.unit, numbers);
  const say = (v: Value | null) =>
    v && 'value' in v ? numbers.figure(v.value, metric.unit, agreement.more) : valueText(v, metric.unit, numbers);
  return { current: say(current), compared: say(compared), moved: change && wordsOf(change, numbers, agreement) };
}

/** How partly a value is known: `87 % of days`; empty when wholly. */
export const partialText = (v: Value | null, numbers: Numbers): string => {
  if (!v || !('value' in v) || !v.partial) return '';
  const share = v.share === undefined ? 'some days missing' : `${numbers.coveredShare(v.share)} of days`;
  const feeds = (v.feeds ?? []).map((f) =>
    f.since ? `${f.feed} only since ${plainDate(f.since)}` : `${f.feed} only until ${plainDate(f.until!)}`,
  );
  return [share, ...feeds].join('; ');
};

/** A value as text alone: its number with the mark of what is partly known. */
export function plainText(v: Value | null, unit: MetricUnit, numbers: Numbers): string {
  const partial = partialText(v, numbers);
  return `${valueText(v, unit, numbers)}${partial && ` (◐ ${partial})`}`;
}

export interface ChangeWords {
  text: string;
  word: string;
  tone: 'good' | 'wrong' | 'muted';
  mark: string;
}

const WORDS: Record<Change['verdict'], string> = {
  better: 'better',
  worse: 'worse',
  steady: 'steady',
  changed: 'changed',
  none: '',
};

/** A change as sign, number, word and tone; null where there is nothing to say. */
export const changeWords = (
  current: Value,
  compared: Value | null,
  metric: Pick<MetricHead, 'unit' | 'polarity'>,
  numbers: Numbers,
): ChangeWords | null =>
  compared &&
  wordsOf(changeOf(current, compared, metric.unit, metric.polarity), numbers, {
    more: 0,
    isTold: true,
    // The cells of a column have the same decimals: points are told as they read there.
    ...('value' in current && 'value' in compared && { points: printedPoints(current.value, compared.value, 0) }),
  });

function wordsOf(change: Change, numbers: Numbers, { more, isTold: inNumbers, points }: Agreement): ChangeWords | null {
  if (!isTold(change)) return null;
  if (!inNumbers) return { text: '', word: WORDS.steady, tone: 'muted', mark: '–' };
  const text = change.new
    ? change.verdict === 'steady'
      ? ''
      : 'new'
    : change.points !== undefined
      ? `${numbers.signedDecimal(points ?? change.points, more)} points`
      : typeof change.rel === 'number'
        ? numbers.signedPercent(change.rel)
        : '';
  return {
    text,
    word: WORDS[change.verdict],
    tone: change.verdict === 'better' ? 'good' : change.verdict === 'worse' ? 'wrong' : 'muted',
    mark: change.verdict === 'steady' || change.abs === 0 ? '–' : change.abs > 0 ? '▲' : '▼',
  };
}
