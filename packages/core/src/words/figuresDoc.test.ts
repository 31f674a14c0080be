import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { type Range, toDayNumber } from '../calendar/index.ts';
import { parseFilter } from '../contract/figuresText.ts';
import {
  type Answer,
  answer,
  changeOf,
  coverageOf,
  type Dataset,
  type Filter,
  isKnown,
  isTold,
  metricBook,
  NO_SETTINGS,
  pairSteps,
  type Step,
  type Target,
  type Value,
} from '../figures/index.ts';
import { createFormatter, whySentence } from './index.ts';

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

function filterOf(text: string | undefined): Filter {
  const parts = parseFilter(text ?? '') ?? [];
  const all = dataset.columns.dims.channel!.labels;
  return Object.fromEntries(
    parts.map((p) => [p.dimension, p.except ? all.filter((l) => !p.values.includes(l)) : p.values]),
  );
}

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

/** Computes one line of an example, to the right of its equals sign. */
function compute(line: string): string {
  if (line.startsWith('steps ')) return stepsLine(line);
  const [verb, rest] = /^(change|why|typical|target) (.+)$/.exec(line)?.slice(1) ?? ['total', line];
  const [, name, body] = /^(`[^`]+`|\w+) (.+)$/.exec(rest!)!;
  const { key, book } = bookFor(name!);
  const knowledge = { book, targets };
  const { unit, polarity } = book.of(key);
  const total = (range: Range, filter: Filter = {}) =>
    valueIn(answer({ op: 'total', metric: key, range, filter }, [dataset], knowledge));
  switch (verb) {
    case 'change': {
      const [now, before] = body!.split(' against ').map(rangeOf) as [Range, Range];
      const change = changeOf(total(now), total(before), unit, polarity);
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
      const value = valueIn(answer({ op: 'target', metric: key, range: rangeOf(body!) }, [dataset], knowledge));
      return isKnown(value) ? format.figure(value.value, unit) : 'nothing';
    }
    default: {
      const [range, filter] = body!.split(' of ') as [string, string?];
      return say(total(rangeOf(range), filterOf(filter)), unit);
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
