import { type Cell, textOf } from './cell.ts';

/** What a row of totals is called, in the languages that files come in. */
const LABEL =
  /^(grand |sub)?-?totals?( général| general| generale)?$|^sum$|^(end|zwischen)?summe$|^(insgesamt|gesamt|gesamtsumme)$|^(ensemble|somme)$|^suma( total)?$|^total general$|^(totale|somma)( complessivo| generale)?$|^(totaal|eindtotaal|som)$|^(razem|łącznie|ogółem)$|^(итого|всего|сумма)$|^(סה["״”]כ|סך הכל)$/iu;

/** Letters that such a label has at most. */
const LONGEST = 30;

/** Whether a cell calls its row a total (SEMANTICS §13). */
export function isTotalLabel(cell: Cell | undefined): boolean {
  if (typeof cell !== 'string' || cell === '' || cell.length > LONGEST) return false;
  // Most cells that are asked about are days: no label begins with a digit.
  const first = cell.charCodeAt(0);
  return (first < 48 || first > 57) && LABEL.test(textOf(cell).replace(/[:.]$/, ''));
}

/** What may be a name, and may stand for all others: its figures tell. */
const ALL = /^\(?(all|overall|alle|tous|toutes|todos|todas|tutti|tutte|wszystkie|все|הכל)\)?$/iu;

/** Whether a label says nothing of its row, or that it is of all others: only its figures tell whether it is a total. */
export const mayBeAll = (label: string): boolean => label === '' || (label.length <= LONGEST && ALL.test(label));

/** Sums of many numbers come out a little beside each other, whichever way they are added. */
const isSame = (a: number, b: number): boolean => Math.abs(a - b) <= 1e-6 * Math.max(1, Math.abs(a), Math.abs(b));

interface Sums {
  rows: number;
  values: Float64Array;
}

/** A row that may be a total: of its day, or of the whole file where it has none. */
export interface Candidate<Row> {
  day: number | null;
  values: Float64Array;
  row: Row;
}

/** Candidates that are kept at most: what comes after them is a row like any other. */
const MOST = 20_000;

/**
 * Finds rows without a label that are totals all the same: equal in every measure that adds up to the sum of the other rows
 * of their day, or of the file where they have no date (SEMANTICS §13). Rows of days are totals all together or none of
 * them is, and one of them at least has to be the sum of two others: else a day of one row would prove it.
 * @param adds for each measure, whether it adds up
 */
export function totalsSieve<Row>(adds: readonly boolean[]) {
  const whole: Sums = { rows: 0, values: new Float64Array(adds.length) };
  const days = new Map<number, Sums>();
  const held: Candidate<Row>[] = [];
  const put = (sums: Sums, values: Float64Array) => {
    sums.rows++;
    for (let i = 0; i < adds.length; i++) sums.values[i]! += values[i]!;
  };
  const equals = (sums: Sums | undefined, values: Float64Array): boolean =>
    sums !== undefined && adds.every((adds, i) => !adds || isSame(sums.values[i]!, values[i]!));
  return {
    /** A row that is none. */
    add(day: number, values: Float64Array): void {
      put(whole, values);
      let sums = days.get(day);
      if (!sums) {
        sums = { rows: 0, values: new Float64Array(adds.length) };
        days.set(day, sums);
      }
      put(sums, values);
    },
    /** Keeps a row until all are read; false when no more can be kept. */
    hold(day: number | null, values: Float64Array, row: Row): boolean {
      if (held.length >= MOST || !adds.includes(true)) return false;
      held.push({ day, values: values.slice(), row });
      return true;
    },
    /** Once all rows are read: which of the kept ones are totals, and which are not. */
    settle(): { totals: Candidate<Row>[]; others: Candidate<Row>[] } {
      const dated = held.filter((c) => c.day !== null);
      const onDays = new Set(dated.map((c) => c.day));
      const areTotals =
        onDays.size === dated.length &&
        dated.some((c) => (days.get(c.day!)?.rows ?? 0) >= 2) &&
        dated.every((c) => equals(days.get(c.day!), c.values));
      const isTotal = (c: Candidate<Row>): boolean =>
        c.day === null ? whole.rows >= 2 && equals(whole, c.values) : areTotals;
      return { totals: held.filter(isTotal), others: held.filter((c) => !isTotal(c)) };
    },
  };
}
