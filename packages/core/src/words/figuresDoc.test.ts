import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { addDays, daysOf, type Range, toDayNumber } from '../calendar/index.ts';
import { parseFilter } from '../contract/figuresText.ts';
import {
  type Answer,
  answer,
  changeOf,
  coverageOf,
  type Dataset,
  type FeedPart,
  type Filter,
  filterOf,
  isKnown,
  isTold,
  metricBook,
  NO_SETTINGS,
  oddDaysIn,
  pairSteps,
  type Step,
  type Target,
  type Value,
  wholeCoverage,
} from '../figures/index.ts';
import { agree, createFormatter, fill, whySentence } from './index.ts';

/** The worked examples of docs/figures.md, computed: the page never says what the product does not do. */
const page = readFileSync(new URL('../../../../docs/figures.md', import.meta.url), 'utf8');
const format = createFormatter('en-GB', 'GBP');

const rangeOf = (text: string): Range => {
  const [from, to] = text.split('..') as [string, string];
  return { from, to };
};

function datasetOf(): Dataset {
  const table = page.split('\n').filter((l) => l.startsWith('|'));
  const cells = (line: string) =>
    line
      .slice(1, -1)
      .split('|')
      .map((c) => c.trim());
  const [, , ...measures] = cells(table[0]!);
  const rows = table.slice(2).map(cells);
  const { from, to } = rangeOf(/Delivered: (\d{4}-\d\d-\d\d\.\.\d{4}-\d\d-\d\d)/.exec(page)![1]!);
  const first = toDayNumber(from);
  const labels = [...new Set(rows.map((r) => r[1]!))];
  return {
    id: 'd',
    name: 'Visits',
    firstDay: /Measured since: (\S+)\.\n/.exec(page)![1]!,
    dimensions: ['channel'],
    measures: [...measures, 'visitors'],
    covered: coverageOf(Array.from({ length: toDayNumber(to) - first + 1 }, (_, i) => first + i)),
    columns: {
      days: Int32Array.from(rows, (r) => toDayNumber(r[0]!)),
      dims: { channel: { labels, codes: Int32Array.from(rows, (r) => labels.indexOf(r[1]!)) } },
      measures: {
        ...Object.fromEntries(measures.map((m, i) => [m, Float64Array.from(rows, (r) => Number(r[i + 2]))])),
        visitors: new Float64Array(rows.length),
      },
    },
  };
}

const dataset = datasetOf();
const aim = /Target: (\w+) (\d+) a month from (\d{4}-\d\d), repeating/.exec(page)!;
const targets: Target[] = [{ metric: aim[1]!, value: Number(aim[2]), span: 'month', from: aim[3]!, repeats: true }];

const filterFrom = (text: string | undefined): Filter => filterOf(parseFilter(text ?? '') ?? []);

/** A metric by its key, or a formula in backticks as a metric of the client's own. */
function bookFor(name: string) {
  const formula = /^`(.+)`$/.exec(name)?.[1];
  if (!formula) return { key: name, book: metricBook() };
  const own = { key: 'own', label: 'Own', unit: 'decimal', polarity: 'higher', formula, definition: '' } as const;
  return { key: 'own', book: metricBook({ ...NO_SETTINGS, own: [own] }) };
}

const say = (v: Value, unit: Parameters<typeof format.cell>[1]): string =>
  !isKnown(v)
    ? format.words.reasons[v.na]
    : unit === 'decimal'
      ? v.value.toFixed(2)
      : `${format.cell(v.value, unit)}${v.partial ? ` (${format.coveredShare(v.share!)} of days)` : ''}`;

/** The day of the compared range that stands as far from its first day. */
const partnerOf = (day: string, range: Range, compared: Range) =>
  addDays(compared.from, toDayNumber(day) - toDayNumber(range.from));

const valueIn = (a: Answer): Value => (a.op === 'total' || a.op === 'target' ? a.value : { na: 'no-data' });

/** The steps of a period beside those they are held against, by the days of their months. */
function stepsLine(line: string): string {
  const [, step, ranges] = /^steps (\w+) (.+)$/.exec(line)!;
  const [period, compared] = ranges!.split(' against ').map(rangeOf) as [Range, Range];
  const days = (r: Range) => `${Number(r.from.slice(8))}–${Number(r.to.slice(8))}`;
  return pairSteps(period, compared, step as Step, 1)
    .map((p) => `${days(p.current)} / ${p.compared ? days(p.compared) : '–'}${p.comparable ? '' : ' (no change)'}`)
    .join(', ');
}

const usual = Object.fromEntries(
  [.../Usual: (.+)\./.exec(page)![1]!.matchAll(/(\d+) (\w+)/g)].map((m) => [m[2]!, Number(m[1])]),
);

/** A day in the middle of half a year of days that bring what is usual, each a little more or less by chance. */
function oddLine(line: string): string {
  const [, key, value] = /^odd (\w+) (\d+)$/.exec(line)!;
  const mean = usual[key!]!;
  // Chance's own scatter, always the same: a normal law's quantiles in a scrambled order.
  const scatter = (i: number) => Math.sqrt(mean) * (((i * 37) % 101) / 50 - 1) * 1.2;
  const values = Float64Array.from({ length: 183 }, (_, i) => Math.round(mean + scatter(i)));
  values[91] = Number(value);
  const day = addDays('2026-01-01', 91);
  const [odd] = oddDaysIn({ from: '2026-01-01', values }, { from: day, to: day });
  if (!odd) return 'nothing odd';
  const about = Math.round((odd.usual / mean) * 10) === 10 ? mean : odd.usual;
  const [came, expected] = [odd.value, about].map((n) => format.figure(n, 'count'));
  const said = odd.value === 0 ? format.words.odd.nothing : format.words.odd.came;
  return fill(said, { metric: key!, value: came!, usual: expected! });
}

/** Two figures as they stand beside each other, with their change. */
function agreeLine(line: string): string {
  const [, key, ...numbers] = /^agree (\w+) (\S+) from (\S+)$/.exec(line)!;
  const { unit, polarity } = metricBook().of(key!);
  const [now, before] = numbers.map((n) => ({ value: Number(n) })) as [{ value: number }, { value: number }];
  const change = changeOf(now, before, unit, polarity);
  const agreement = agree(now, before, change, unit, format);
  const say = (v: { value: number }) => format.figure(v.value, unit, agreement.more);
  return `${say(now)} from ${say(before)}, ${format.change(change, agreement)}`;
}

/** What the rows of a table leave over, metric by metric. */
function otherLine(line: string): string {
  const [, n, dimension, names, range] = /^other beside (\d+) (\w+) ([\w ]+) (\S+)$/.exec(line)!;
  const metrics = names!.split(' ');
  const q = {
    op: 'top',
    metrics,
    dimension: dimension!,
    n: Number(n),
    range: rangeOf(range!),
    compared: null,
  } as const;
  const found = answer({ ...q, metrics, filter: {} }, [dataset]);
  if (found.op !== 'top' || 'na' in found.breakdown) return 'nothing';
  return found.breakdown.other!.map((p, i) => say(p.current, metricBook().of(metrics[i]!).unit)).join(', ');
}

/** Both shops of the page, the second with the past that the line names. */
function feedsLine(line: string): string {
  const [, past, range] = /^feeds (\w+) (\S+)$/.exec(line)!;
  const shops = [...page.matchAll(/(Shop \w): (\d+) visits a day since (\d{4}-\d\d-\d\d)/g)];
  const until = '2026-10-31';
  const begins = shops[1]![3]!;
  const parts = shops.map(([, feed, , from], i): FeedPart => {
    const to = past === 'continues' && i === 0 ? addDays(begins, -1) : null;
    const own = daysOf({ from: from!, to: to ?? until }).map(toDayNumber);
    const asked = past === 'ran' ? null : from!;
    return { feed: feed!, firstDay: from!, lastDay: to, from: asked, to, covered: coverageOf(own) };
  });
  const rows = parts
    .flatMap((p, i) => daysOf({ from: p.firstDay, to: p.to ?? until }).map((day) => ({ day, n: Number(shops[i]![2]) })))
    .sort((a, b) => (a.day < b.day ? -1 : 1));
  const both: Dataset = {
    ...dataset,
    firstDay: shops[0]![3]!,
    parts,
    covered: wholeCoverage(parts),
    columns: {
      days: Int32Array.from(rows, (r) => toDayNumber(r.day)),
      dims: {},
      measures: { visits: Float64Array.from(rows, (r) => r.n) },
    },
  };
  return say(valueIn(answer({ op: 'total', metric: 'visits', range: rangeOf(range!), filter: {} }, [both])), 'count');
}

/** Computes one line of an example, to the right of its equals sign. */
function compute(line: string): string {
  if (line.startsWith('steps ')) return stepsLine(line);
  if (line.startsWith('odd ')) return oddLine(line);
  if (line.startsWith('feeds ')) return feedsLine(line);
  if (line.startsWith('agree ')) return agreeLine(line);
  if (line.startsWith('other ')) return otherLine(line);
  const [verb, rest] = /^(change|why|typical|target) (.+)$/.exec(line)?.slice(1) ?? ['total', line];
  const [, name, body] = /^(`[^`]+`|\w+) (.+)$/.exec(rest!)!;
  const { key, book } = bookFor(name!);
  const knowledge = { book, targets };
  const { unit, polarity } = book.of(key);
  const total = (range: Range, filter: Filter = {}) =>
    valueIn(answer({ op: 'total', metric: key, range, filter }, [dataset], knowledge));
  const totalWithout = (range: Range, day: string) =>
    valueIn(
      answer({ op: 'total', metric: key, range: { ...range, without: [{ day }] }, filter: {} }, [dataset], knowledge),
    );
  switch (verb) {
    case 'change': {
      const [ranges, left] = body!.split(' without ') as [string, string?];
      const [now, before] = ranges.split(' against ').map(rangeOf) as [Range, Range];
      const change = left
        ? changeOf(totalWithout(now, left), totalWithout(before, partnerOf(left, now, before)), unit, polarity)
        : changeOf(total(now), total(before), unit, polarity);
      return isTold(change) ? `${format.change(change)} ${change.verdict}` : 'none';
    }
    case 'why': {
      const [, dimension, ranges] = /^by (\w+) (.+)$/.exec(body!)!;
      const [range, compared] = ranges!.split(' against ').map(rangeOf) as [Range, Range];
      const question = { op: 'drivers', metric: key, dimension: dimension!, range, compared, filter: {} } as const;
      const found = answer(question, [dataset], knowledge);
      const drivers = found.op === 'drivers' ? found.drivers : null;
      const label = book.labelOf(key, format.words.metrics);
      return whySentence(
        { metric: book.of(key), label, current: total(range), compared: total(compared), drivers },
        format,
      );
    }
    case 'typical': {
      const found = answer(
        { op: 'typical', metric: key, ranges: body!.split(' ').map(rangeOf), filter: {} },
        [dataset],
        knowledge,
      );
      return found.op === 'typical' && !('na' in found.value) ? format.cell(found.value.value, unit) : 'nothing';
    }
    case 'target': {
      const [ranges, filter] = body!.split(' of ') as [string, string?];
      const value = valueIn(
        answer(
          { op: 'target', metric: key, range: rangeOf(ranges!), filter: filterFrom(filter) },
          [dataset],
          knowledge,
        ),
      );
      return isKnown(value) ? format.figure(value.value, unit) : 'nothing';
    }
    default: {
      const [range, filter] = body!.split(' of ') as [string, string?];
      return say(total(rangeOf(range), filterFrom(filter)), unit);
    }
  }
}

const examples = [...page.matchAll(/```figures\n([\s\S]*?)```/g)]
  .flatMap((m) => m[1]!.trim().split('\n'))
  .map((line) => {
    const at = line.lastIndexOf(' = ');
    return [line.slice(0, at), line.slice(at + 3)] as const;
  });

describe('the page on figures', () => {
  it('has examples', () => expect(examples.length).toBeGreaterThan(20));

  it.each(examples)('%s = %s', (line, expected) => {
    expect(compute(line)).toBe(expected);
  });
});
