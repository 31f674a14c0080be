import { METRICS } from '../../figures/index.ts';
import { type Cell, isBlank, textOf } from './cell.ts';
import { readDate } from './dates.ts';
import { keyOfName } from './keyOfName.ts';
import { DATE_STYLES } from './styles.ts';
import { isTotalLabel } from './totals.ts';

/** A table with a column for each day (SEMANTICS §13), and how its rows become rows of one day each. */
export interface WideTable {
  /** The row that names the days, from 0. */
  headerAt: number;
  /** Cells of that row. */
  width: number;
  /** Columns beside the days, by their place; they stand on every row. */
  kept: { at: number; name: string }[];
  /** Columns of days, with what stands over them. */
  days: { at: number; text: Cell }[];
  /** The column that says which figure a row holds, and the figures; null where all rows hold the same one. */
  metrics: { at: number; names: string[] } | null;
}

/** Columns of days that make a table a wide one. */
const FEWEST = 2;
/** Rows among which the one that names the days is looked for. */
const SEARCHED = 20;
/** Figures that a column may name: more are labels. */
const MOST_METRICS = 40;

/** Names of the columns that such a table does not have of its own. */
const DAY = 'Day';
const VALUE = 'Value';

/** Headings of a column that says which figure a row holds, in the languages that files come in. */
const METRIC_HEADING =
  /^(metrics?|measures?|kpis?|figures?|indicators?|kennzahl(en)?|messwert|indicateurs?|mesures?|métriques?|métricas?|indicador(es)?|metrica|metriche|indicator[ei]|meetwaarde|statistiek|wskaźnik|miara|показатель|метрика|מדד)$/iu;

const KNOWN: ReadonlySet<string> = new Set(
  METRICS.flatMap((m) => ('measure' in m.aggregation ? [m.key, m.aggregation.measure] : [m.key])).map((k) =>
    k.toLowerCase(),
  ),
);
const isKnownFigure = (name: string): boolean => KNOWN.has(keyOfName(name).toLowerCase());

/** Whether a heading is a day: mere numbers are not, as a year or a rank may stand there. */
const isDay = (cell: Cell, zone: string): boolean =>
  typeof cell === 'string' &&
  DATE_STYLES.some((style) => style !== 'serial' && style !== 'epoch' && readDate(cell, style, zone) !== null);

/** A name for a column beside others of it. */
function freeName(name: string, taken: readonly string[]): string {
  let free = name;
  for (let n = 2; taken.includes(free); n++) free = `${name} (${n})`;
  return free;
}

/**
 * Finds out whether a table has days for columns; null where it has them as rows. A column that is headed as a total is no
 * day, and left out.
 * @param rows the first rows of the file
 */
export function wideTable(rows: readonly (readonly Cell[])[], zone: string): WideTable | null {
  for (let headerAt = 0; headerAt < Math.min(rows.length - 1, SEARCHED); headerAt++) {
    const header = rows[headerAt]!;
    const days = header.flatMap((text, at) => (isDay(text, zone) ? [{ at, text }] : []));
    // Beside the days stand a few columns of labels; rows of figures have fewer days than that.
    if (days.length < FEWEST || days.length * 2 < header.filter((c) => !isBlank(c)).length) continue;
    const below = rows.slice(headerAt + 1);
    // Days under days are a table of days down and across: no figures.
    if (below.some((r) => days.filter(({ at }) => isDay(r[at] ?? null, zone)).length * 2 > days.length)) return null;
    const kept: WideTable['kept'] = [];
    for (const [at, cell] of header.entries()) {
      if (isDay(cell, zone) || isTotalLabel(cell) || below.every((r) => isBlank(r[at]))) continue;
      const name = isBlank(cell) ? `Column ${at + 1}` : textOf(cell).replace(/\s+/g, ' ').slice(0, 80);
      const names = kept.map((k) => k.name);
      kept.push({ at, name: freeName(name, names) });
    }
    const metrics = metricColumn(kept, below);
    return { headerAt, width: header.length, kept: kept.filter((k) => k.at !== metrics?.at), days, metrics };
  }
  return null;
}

/** The column that says which figure a row holds: by its heading, or as all that it says are figures of the library. */
function metricColumn(kept: WideTable['kept'], below: readonly (readonly Cell[])[]): WideTable['metrics'] {
  for (const { at, name } of kept) {
    const said = below.map((r) => textOf(r[at])).filter((t) => t !== '' && !isTotalLabel(t));
    const names = [...new Set(said)];
    if (names.length === 0 || names.length > MOST_METRICS) continue;
    if (METRIC_HEADING.test(name) || names.every(isKnownFigure)) return { at, names };
  }
  return null;
}

/** The names of its columns once its rows are of one day each. */
export function tallNames({ kept, metrics }: WideTable): string[] {
  const names = kept.map((k) => k.name);
  for (const name of [DAY, ...(metrics?.names ?? [VALUE])]) names.push(freeName(name, names));
  return names;
}

export interface TallRow {
  cells: Cell[];
  /** Why it cannot be read, or null. */
  fault: string | null;
  /** The place of its figure in the row that it comes from, and in its own. */
  at: { from: number; to: number };
}

/** The rows of one day each that a row of the table comes to. A cell with nothing in it gives none. */
export function tallRows({ kept, days, metrics }: WideTable, cells: readonly Cell[]): TallRow[] {
  const said = metrics ? textOf(cells[metrics.at]) : '';
  const place = metrics ? metrics.names.indexOf(said) : 0;
  // A total of unlike figures is none of them.
  if (place < 0 && isTotalLabel(said)) return [];
  const fault =
    place >= 0
      ? null
      : said === ''
        ? 'doesn’t say which metric it has'
        : `holds “${said.slice(0, 40)}”, a figure that no row above has`;
  const labels = kept.map((k) => cells[k.at] ?? null);
  return days.flatMap(({ at, text }) => {
    const value = cells[at] ?? null;
    if (isBlank(value)) return [];
    const values = (metrics?.names ?? [VALUE]).map((_, i) => (i === place ? value : null));
    const to = labels.length + 1 + Math.max(0, place);
    return [{ cells: [...labels, text, ...values], fault, at: { from: at, to } }];
  });
}
