import type { Figures } from '@chronicon/core/contract';
import type { Numbers } from '@chronicon/core/contract/display';
import type { Pair, Value } from '@chronicon/core/figures';
import { Button } from '@mantine/core';
import { memo, type ReactNode, useState } from 'react';
import { ScrollBox } from '../../parts/ScrollBox.tsx';
import { dayWithYear, shortDates, shortDay } from '../../parts/when.ts';
import { changeWords, type MetricHead, numberOf, partialText, plainText, valueText } from './figureText.ts';

export interface TableRow {
  key: string;
  /** What stands in the first column, when it is no range of dates. */
  name: string;
  note: string;
  from: string;
  to: string;
  comparedRange: { from: string; to: string } | null;
  /** Whether what stands beside each other may be compared with each other. */
  comparable: boolean;
  /** A row of a breakdown: its label; null for a row of time. */
  label: string | null;
  cells: { current: Value | null; compared: Value | null }[];
  kind: 'row' | 'other' | 'beyond';
}

/** The first column of a row; dates are slow to write, and few rows are on show. */
const headOf = (r: TableRow): string =>
  r.name || (r.from === r.to ? dayWithYear(r.from) : `${shortDay(r.from)} – ${shortDay(r.to)}`);

const datesOf = (r: { from: string; to: string }): string =>
  r.from === r.to ? dayWithYear(r.from) : `${shortDay(r.from)} – ${dayWithYear(r.to)}`;

/** Whether the rows of a view stand beside something: other dates, what is usual, or a target. */
const isHeld = ({ series, breakdown, compared }: Figures): boolean =>
  series
    ? series.lines.some((l) => l.compared !== null)
    : compared !== null || (breakdown?.rows.some((r) => r.cells.some((c) => c.compared !== null)) ?? false);

/** The days that a step leaves out, said once where it is the same of all metrics; a day says so in its cell. */
function leftOutOf({ series, metrics }: Figures, step: number): string {
  const words = (series?.lines ?? []).map((l) => l.without[step] ?? '');
  if (new Set(words).size === 1) return words[0]!;
  return words.flatMap((w, i) => (w === '' ? [] : [`${metrics[i]!.label} ${w}`])).join('; ');
}

/** The rows of a view, unsorted. */
export function rowsOf(figures: Figures): TableRow[] {
  const { series, breakdown, period, compared } = figures;
  if (series) {
    const own = series.times.map(
      (t, i): TableRow => ({
        key: t.from,
        name: '',
        note: series.step === 'day' ? '' : leftOutOf(figures, i),
        ...t,
        comparedRange: series.comparedTimes?.[i] ?? null,
        comparable: series.comparable[i]!,
        label: null,
        cells: series.lines.map((l) => ({
          current: l.current[i]!,
          compared: l.compared ? (l.compared[i] ?? null) : null,
        })),
        kind: 'row',
      }),
    );
    const beyond = series.beyond.map(
      (t, i): TableRow => ({
        key: `beyond ${t.from}`,
        name: '–',
        note: '',
        ...t,
        comparedRange: t,
        comparable: false,
        label: null,
        cells: series.lines.map((l) => ({ current: null, compared: l.beyond[i] ?? null })),
        kind: 'beyond',
      }),
    );
    return [...own, ...beyond];
  }
  const row = (label: string, cells: Pair[], kind: TableRow['kind'], note = '', name = label): TableRow => ({
    key: `${kind} ${label}`,
    name: name || '(unnamed)',
    note,
    from: period.from,
    to: period.to,
    comparedRange: compared,
    comparable: true,
    label: kind === 'row' ? label : null,
    cells,
    kind,
  });
  const notes = { both: '', new: 'new', gone: 'gone' };
  return [
    ...(breakdown?.rows ?? []).map((r) => row(r.label, r.cells, 'row', notes[r.status], r.name)),
    ...(breakdown?.other ? [row('Other', breakdown.other, 'other')] : []),
  ];
}

/** Sorted by a column: `0` the first metric, `0c` its compared value, `head` the first column; `-` turns it round. */
export function sorted(rows: TableRow[], sort: string): TableRow[] {
  const column = sort.replace(/^-/, '');
  if (column === '') return rows;
  const turn = sort.startsWith('-') ? -1 : 1;
  const [index, compared] = [Number.parseInt(column, 10), column.endsWith('c')];
  const valueIn = (r: TableRow): number | null => {
    const pair = r.cells[index];
    return pair ? numberOf(compared ? pair.compared : pair.current) : null;
  };
  const last = rows.filter((r) => r.kind !== 'row');
  const own = rows.filter((r) => r.kind === 'row');
  own.sort((a, b) => {
    if (column === 'head') return turn * (a.key < b.key ? -1 : 1);
    const [x, y] = [valueIn(a), valueIn(b)];
    if (x === null || y === null) return x === y ? 0 : x === null ? 1 : -1;
    return turn * (x - y);
  });
  return [...own, ...last];
}

/** The table as text with tabs, for pasting: numbers as they are shown. */
export function tableText(figures: Figures, rows: TableRow[], numbers: Numbers): string {
  const against = isHeld(figures) ? (figures.compared?.label ?? figures.against) : null;
  const dated = figures.series?.comparedTimes != null;
  const head = [
    figures.series ? 'Dates' : (figures.breakdown?.dimension.label ?? ''),
    ...(dated ? ['Compared with'] : []),
    ...figures.metrics.flatMap((m, i) => {
      // A total says which days its rows leave out; steps say it themselves.
      const left = figures.series ? null : figures.excluded[i];
      const own = left ? `${m.label} (${left.words})` : m.label;
      return against ? [own, `${m.label}, ${against}`] : [own];
    }),
  ];
  const body = rows.map((r) => [
    figures.series && r.note !== '' ? `${headOf(r)} (${r.note})` : headOf(r),
    ...(dated ? [r.comparedRange ? datesOf(r.comparedRange) : ''] : []),
    ...r.cells.flatMap((c, i) => {
      const unit = figures.metrics[i]!.unit;
      const current = plainText(c.current, unit, numbers);
      return against ? [current, plainText(c.compared, unit, numbers)] : [current];
    }),
  ]);
  return [head, ...body].map((line) => line.join('\t')).join('\n');
}

interface Props {
  figures: Figures;
  numbers: Numbers;
  sort: string;
  onSort: (sort: string) => void;
  onPick: (metric: string, range: { from: string; to: string }, label: string | null) => void;
}

/** Rows drawn at once: three years of days would keep every change of the filter waiting. */
const FEW = 60;

function Head({
  column,
  sort,
  onSort,
  right,
  children,
}: {
  column: string;
  sort: string;
  onSort: (s: string) => void;
  right?: boolean;
  children: ReactNode;
}) {
  const active = sort.replace(/^-/, '') === column;
  const down = sort.startsWith('-');
  // Figures are wanted largest first; names and dates from the beginning.
  const first = column === 'head' ? column : `-${column}`;
  const next = !active ? first : sort === first ? (column === 'head' ? `-${column}` : column) : '';
  return (
    <th scope="col" className={right ? 'num' : ''} aria-sort={active ? (down ? 'descending' : 'ascending') : 'none'}>
      <button type="button" className="sorter" onClick={() => onSort(next)}>
        {children}
        <span aria-hidden="true" className="sort-mark">
          {active ? (down ? ' ↓' : ' ↑') : ''}
        </span>
      </button>
    </th>
  );
}

function Figure({
  value,
  metric,
  numbers,
  about,
  onPick,
  quiet,
}: {
  value: Value | null;
  metric: MetricHead;
  numbers: Numbers;
  about: string;
  onPick: (() => void) | null;
  quiet?: boolean;
}) {
  if (value === null) return null;
  const text = valueText(value, metric.unit, numbers);
  const partial = partialText(value, numbers);
  const shown = (
    <>
      {partial && (
        <span className="tone-attention" title={partial}>
          ◐{' '}
        </span>
      )}
      {text}
    </>
  );
  if (!onPick || 'na' in value) return <span className={'na' in value ? 'muted small' : ''}>{shown}</span>;
  return (
    <button
      type="button"
      className={`figure${quiet ? ' quiet' : ''}`}
      aria-label={`${about}: ${text}. How it’s calculated`}
      onClick={onPick}
    >
      {shown}
    </button>
  );
}

/** Every figure of the view, each of which can be questioned. */
export const FiguresTable = memo(function FiguresTable({ figures, numbers, sort, onSort, onPick }: Props) {
  const [all, setAll] = useState(false);
  const everything = sorted(rowsOf(figures), sort);
  const rows = all ? everything : everything.slice(0, FEW);
  const held = isHeld(figures);
  const dated = figures.series?.comparedTimes != null;
  return (
    <ScrollBox label="Data table">
      <table className="list figures">
        <thead>
          <tr>
            <Head column="head" sort={sort} onSort={onSort}>
              {figures.series ? 'Dates' : figures.breakdown?.dimension.label}
            </Head>
            {dated && <th scope="col">Compared with</th>}
            {figures.metrics
              .map((m, i) => (
                <Head key={m.key} column={String(i)} sort={sort} onSort={onSort} right>
                  {m.label}
                </Head>
              ))
              .flatMap((head, i) =>
                held
                  ? [
                      head,
                      <Head key={`${figures.metrics[i]!.key} c`} column={`${i}c`} sort={sort} onSort={onSort} right>
                        {figures.compared ? 'Before' : figures.against}
                      </Head>,
                      <th key={`${figures.metrics[i]!.key} d`} scope="col" className="num">
                        Change
                      </th>,
                    ]
                  : [head],
              )}
          </tr>
        </thead>
        <tbody>
          {rows.map((r) => (
            <tr key={r.key} className={r.kind === 'other' ? r.kind : undefined}>
              <th scope="row">
                {headOf(r)} {r.note && <span className="small muted">{r.note}</span>}
              </th>
              {dated && (
                <td className="small muted" title={r.comparedRange ? datesOf(r.comparedRange) : undefined}>
                  {r.comparedRange && shortDates(r.comparedRange, figures.period.to)}
                </td>
              )}
              {r.cells.map((c, i) => {
                const metric = figures.metrics[i]!;
                const pick = (range: { from: string; to: string } | null) =>
                  range && r.kind !== 'other' ? () => onPick(metric.key, range, r.label) : null;
                const change = r.comparable && c.current ? changeWords(c.current, c.compared, metric, numbers) : null;
                const about = `${metric.label}, ${headOf(r)}`;
                const now = (
                  <td key={metric.key} className="num">
                    <Figure
                      value={c.current}
                      metric={metric}
                      numbers={numbers}
                      about={about}
                      onPick={pick(r.kind === 'beyond' ? null : r)}
                    />
                  </td>
                );
                if (!held) return now;
                return [
                  now,
                  <td key={`${metric.key} c`} className="num muted">
                    <Figure
                      value={c.compared}
                      metric={metric}
                      numbers={numbers}
                      about={`${about}, before`}
                      onPick={pick(r.comparedRange)}
                      quiet
                    />
                  </td>,
                  <td key={`${metric.key} d`} className={`num small tone-${change?.tone ?? 'muted'}`}>
                    {change && (
                      <>
                        {change.text} {change.word}
                      </>
                    )}
                  </td>,
                ];
              })}
            </tr>
          ))}
        </tbody>
      </table>
      {everything.length > rows.length && (
        <div className="more">
          <Button size="compact-sm" variant="default" onClick={() => setAll(true)}>
            Show all {everything.length.toLocaleString('en-GB')} rows
          </Button>
        </div>
      )}
    </ScrollBox>
  );
});
