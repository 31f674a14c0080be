import type { FileMapping } from '@chronicon/core/feeds';
import { archived, bookFiles } from '../archive.ts';
import { DAYS, SALES, type Sale, soldIn, takenIn } from './truth.ts';

/** What a messy file is to come to. */
export interface Outcome {
  /** Refused in these words when it is looked at. */
  refused?: RegExp;
  /** Asked before anything else. */
  asks?: ('dates' | 'numbers' | 'currency')[];
  /** Said of it in these words. */
  says?: RegExp;
  /** What a person answers. */
  answer?: Partial<FileMapping>;
  /** Columns that a person reads in another way than was proposed. */
  columns?: FileMapping['columns'];
  /** Refused in these words, at this field, when it is to be imported as it was answered. */
  stops?: [field: string, words: RegExp];
  /** Totals by metric over the fortnight, or over `period`. */
  totals?: Record<string, number | 'partial' | 'none'>;
  period?: string;
  /** Rows that were set aside. */
  bad?: number;
  /** Whether days are left open. */
  open?: boolean;
}

export interface MessyFile extends Outcome {
  name: string;
  body: string | Buffer | Promise<Buffer>;
}

const csv = (rows: readonly (readonly (string | number)[])[], by = ','): string =>
  rows.map((r) => `${r.map((c) => (String(c).includes(by) ? `"${c}"` : c)).join(by)}\n`).join('');

/** The plain file, with its days written in another way. */
const dated = (write: (s: Sale) => string, heading = 'day'): string =>
  csv([[heading, 'shop', 'sold'], ...SALES.map((s) => [write(s), s.shop, s.sold])]);
/** The same with its figures written in another way. */
const counted = (write: (s: Sale) => string, heading = 'sold'): string =>
  csv([['day', 'shop', heading], ...SALES.map((s) => [s.day, s.shop, write(s)])], ';');

const [Y, M, D] = [(s: Sale) => s.day.slice(0, 4), (s: Sale) => s.day.slice(5, 7), (s: Sale) => s.day.slice(8)];
const at = (s: Sale, options: Intl.DateTimeFormatOptions, language: string) =>
  new Intl.DateTimeFormat(language, { timeZone: 'UTC', ...options }).format(new Date(`${s.day}T00:00:00Z`));
const long = (language: string) => (s: Sale) =>
  at(s, { weekday: 'short', day: 'numeric', month: 'long', year: 'numeric' }, language);

const SOLD = { sold: soldIn() };
const read = (more: Outcome = {}): Outcome => ({ totals: SOLD, bad: 0, open: false, ...more });
const early = (s: Sale) => s.day <= '2026-10-12';

const DATES: MessyFile[] = [
  { name: 'slashes.csv', body: dated((s) => s.day.replaceAll('-', '/')), ...read() },
  { name: 'with-a-time.csv', body: dated((s) => `${s.day} 23:30:00`), ...read() },
  { name: 'instants.csv', body: dated((s) => `${s.day}T08:15:00Z`), ...read() },
  { name: 'day-first.csv', body: dated((s) => `${D(s)}/${M(s)}/${Y(s)}`), ...read() },
  { name: 'two-digit-years.csv', body: dated((s) => `${D(s)}.${M(s)}.26`), ...read() },
  { name: 'month-first.csv', body: dated((s) => `${M(s)}/${D(s)}/${Y(s)}`), ...read() },
  { name: 'month-first-at-noon.csv', body: dated((s) => `${M(s)}/${D(s)}/${Y(s)} 5:04 PM`), ...read() },
  {
    name: 'day-or-month.csv',
    body: csv([
      ['day', 'shop', 'sold'],
      ...SALES.filter(early).map((s) => [`${D(s)}/${M(s)}/${Y(s)}`, s.shop, s.sold]),
    ]),
    asks: ['dates'],
    answer: { dates: 'dmy' },
    ...read({ totals: { sold: soldIn(SALES.filter(early)) }, period: '2026-10-01..2026-10-12' }),
  },
  { name: 'eight-digits.csv', body: dated((s) => s.day.replaceAll('-', '')), ...read() },
  { name: 'english-months.csv', body: dated(long('en-GB')), ...read() },
  { name: 'german-months.csv', body: dated(long('de'), 'Datum'), ...read() },
  { name: 'french-months.csv', body: dated(long('fr'), 'Date'), ...read() },
  { name: 'spanish-months.csv', body: dated(long('es'), 'Fecha'), ...read() },
  { name: 'polish-months.csv', body: dated(long('pl'), 'Data'), ...read() },
  { name: 'russian-months.csv', body: dated(long('ru'), 'Дата'), ...read() },
  { name: 'hebrew-months.csv', body: dated(long('he'), 'date'), ...read() },
  {
    name: 'iso-week-days.csv',
    body: dated(
      (s) => `2026-W${40 + Math.floor((DAYS.indexOf(s.day) + 3) / 7)}-${((DAYS.indexOf(s.day) + 3) % 7) + 1}`,
    ),
    ...read(),
  },
  {
    name: 'whole-weeks.csv',
    body: csv([
      ['Week', 'shop', 'sold'],
      ['2026-W40', 'Quay', 70],
      ['2026-W41', 'Quay', 80],
    ]),
    ...read({ totals: { sold: 150 }, period: '2026-09-28..2026-10-11' }),
  },
  {
    name: 'weeks-that-look-like-months.csv',
    body: csv([
      ['Kalenderwoche', 'shop', 'sold'],
      ['2026-10', 'Quay', 70],
      ['2026-11', 'Quay', 80],
    ]),
    ...read({ totals: { sold: 150 }, period: '2026-03-02..2026-03-15' }),
  },
  {
    name: 'whole-months.csv',
    body: csv([
      ['Month', 'shop', 'sold'],
      ['Aug 2026', 'Quay', 70],
      ['Sept 2026', 'Quay', 80],
    ]),
    ...read({ totals: { sold: 150 }, period: '2026-08-01..2026-09-30' }),
  },
  { name: 'epoch.csv', body: dated((s) => String(Date.parse(`${s.day}T10:00:00Z`) / 1000), 'timestamp'), ...read() },
  { name: 'epoch-milliseconds.csv', body: dated((s) => String(Date.parse(`${s.day}T10:00:00Z`)), 'time'), ...read() },
  { name: 'days-counted.csv', body: dated((s) => String(46_296 + DAYS.indexOf(s.day)), 'Date'), ...read() },
  {
    name: 'styles-mixed.csv',
    body: csv([['day', 'shop', 'sold'], ...SALES.map((s, i) => [i === 27 ? '14 Oct 2026' : s.day, s.shop, s.sold])]),
    says: /more than one format/,
    totals: { sold: 'none' },
    bad: 1,
    open: true,
  },
  { name: 'no-dates.csv', body: 'shop,sold\nQuay,4\nHill,5\n', stops: ['mapping', /Choose the date column\./] },
];

const money = (s: Sale) => (s.pence / 100).toFixed(2);

const NUMBERS: MessyFile[] = [
  {
    name: 'comma-decimals.csv',
    body: counted((s) => `1.${String(s.sold).padStart(3, '0')},50`),
    ...read({ totals: { sold: soldIn() + 28 * 1_000.5 } }),
  },
  {
    name: 'grouped-by-spaces.csv',
    body: counted((s) => `${s.sold}\u202f000`),
    ...read({ totals: { sold: soldIn() * 1_000 } }),
  },
  {
    name: 'grouped-by-apostrophes.csv',
    body: counted((s) => `${s.sold}’000`),
    ...read({ totals: { sold: soldIn() * 1_000 } }),
  },
  { name: 'written-short.csv', body: counted((s) => `${s.sold / 10}K`), ...read({ totals: { sold: soldIn() * 100 } }) },
  {
    name: 'german-short.csv',
    body: counted((s) => `${String(s.sold / 10).replace('.', ',')} Tsd.`),
    ...read({ totals: { sold: soldIn() * 100 } }),
  },
  {
    name: 'lengths-of-time.csv',
    body: counted((s) => `00:01:${String(s.sold).padStart(2, '0')}`),
    ...read({ totals: { sold: soldIn() + 28 * 60 } }),
  },
  {
    name: 'micros.csv',
    body: counted((s) => `${s.sold}000000`, 'sold_micros'),
    ...read({ totals: { soldMicros: soldIn() } }),
  },
  {
    name: 'thousand-or-not.csv',
    body: counted((s) => `1.${String(s.sold).padStart(3, '0')}`),
    asks: ['numbers'],
    answer: { numbers: 'comma' },
    ...read({ totals: { sold: soldIn() + 28 * 1_000 } }),
  },
  {
    name: 'below-zero.csv',
    body: counted((s) => `(${s.sold})`),
    columns: { sold: { as: 'measure', key: 'refunds' } },
    ...read({ totals: { refunds: -soldIn() } }),
  },
  {
    name: 'rates.csv',
    body: csv([['day', 'Conversion rate', 'sold'], ...DAYS.map((d, i) => [d, `${i}%`, 5])]),
    says: /can’t be summed/,
    ...read({ totals: { sold: 70, conversionRate: 'none' } }),
  },
];

const TEXTS: MessyFile[] = [
  { name: 'utf-16.csv', body: Buffer.from(`\ufeff${dated((s) => s.day)}`, 'utf16le'), ...read() },
  {
    name: 'western.csv',
    body: Buffer.from(
      csv([['Tag', 'Geschäft', 'sold'], ...SALES.map((s) => [s.day, `Café ${s.shop}`, s.sold])]),
      'latin1',
    ),
    says: /Not UTF-8/,
    ...read(),
  },
  { name: 'semicolons.csv', body: dated((s) => s.day).replaceAll(',', ';'), ...read() },
  { name: 'tabs.tsv', body: dated((s) => s.day).replaceAll(',', '\t'), ...read() },
  { name: 'bars.txt', body: dated((s) => s.day).replaceAll(',', '|'), ...read() },
  { name: 'old-line-ends.csv', body: dated((s) => s.day).replaceAll('\n', '\r'), ...read() },
  {
    name: 'lines.jsonl',
    body: SALES.map(({ day, shop, sold }) => `${JSON.stringify({ day, shop, sold })}\n`).join(''),
    ...read(),
  },
];

const QUAY = SALES.filter((s) => s.shop === 'Quay');
const cell = (at: string, text: string | number) =>
  typeof text === 'number'
    ? `<c r="${at}"><v>${text}</v></c>`
    : `<c r="${at}" t="inlineStr"><is><t>${text}</t></is></c>`;
const sheet = (rows: readonly (readonly (string | number)[])[]) =>
  `<sheetData>${rows
    .map(
      (r, y) =>
        `<row r="${y + 1}">${r.map((c, x) => cell(`${String.fromCharCode(65 + x)}${y + 1}`, c)).join('')}</row>`,
    )
    .join('')}</sheetData>`;
const PLAIN = [['day', 'shop', 'sold'], ...SALES.map((s) => [s.day, s.shop, s.sold])] as const;
/** A file's bytes are the same whenever it is made. */
const book = (sheets: Record<string, string>) => archived(bookFiles(sheets), new Date('2026-11-02T00:00:00Z'));

const wide = (write: (day: string) => string, lead = 'Shop', sales = SALES): (string | number)[][] => [
  [lead, ...DAYS.map(write)],
  ...(['Quay', 'Hill'] as const).map((shop) => [
    shop,
    ...DAYS.map((d) => sales.find((s) => s.day === d && s.shop === shop)?.sold ?? ''),
  ]),
];
const VALUES = { value: soldIn() };

const SHAPES: MessyFile[] = [
  {
    name: 'titles-above.csv',
    body: `What was sold,,\nby shop,,\n,,\n${dated((s) => s.day)}`,
    says: /headings are in row 4/,
    ...read(),
  },
  {
    name: 'no-heading.csv',
    body: csv(SALES.map((s) => [s.day, s.shop, s.sold])),
    ...read({ totals: { column3: soldIn() } }),
  },
  {
    name: 'headed-alike.csv',
    body: csv([['day', 'sold', 'sold'], ...QUAY.map((s) => [s.day, s.sold, 1])]),
    says: /names more than one column/,
    ...read({ totals: { sold: soldIn(QUAY), sold2: 14 } }),
  },
  {
    name: 'grand-total.csv',
    body: `${dated((s) => s.day)}Grand total,,${soldIn()}\n`,
    says: /is a total, so it is skipped: it would count the others twice\./,
    ...read({ bad: 1 }),
  },
  {
    name: 'german-total.csv',
    body: `${dated((s) => s.day)}Gesamtsumme,,${soldIn()}\n`,
    says: /is a total, so it is skipped: it would count the others twice\./,
    ...read({ bad: 1 }),
  },
  { name: 'total-without-a-label.csv', body: `${dated((s) => s.day)},,${soldIn()}\n`, ...read({ bad: 1 }) },
  {
    name: 'totals-of-days.csv',
    body: csv([
      ['day', 'shop', 'sold'],
      ...DAYS.flatMap((d) => {
        const own = SALES.filter((s) => s.day === d);
        return [...own.map((s) => [d, s.shop, s.sold]), [d, 'All', soldIn(own)]];
      }),
    ]),
    ...read({ bad: 14 }),
  },
  {
    name: 'no-total-but-undated.csv',
    body: `${dated((s) => s.day)},Quay,4\n`,
    totals: { sold: 'none' },
    bad: 1,
    open: true,
  },
  { name: 'days-as-columns.csv', body: csv(wide((d) => d)), says: /14 date columns/, ...read({ totals: VALUES }) },
  {
    name: 'days-as-columns-with-totals.csv',
    body: csv([
      ...wide((d) => d).map((r, i) => [...r, i === 0 ? 'Total' : soldIn(SALES.filter((s) => s.shop === r[0]))]),
      ['Total', ...DAYS.map((d) => soldIn(SALES.filter((s) => s.day === d))), soldIn()],
    ]),
    ...read({ totals: VALUES, bad: 14 }),
  },
  {
    name: 'figures-as-rows.csv',
    body: csv([
      ['Kennzahl', ...DAYS.map((d) => `${Number(d.slice(8))}. Oktober 2026`)],
      ['Sold', ...DAYS.map((d) => soldIn(SALES.filter((s) => s.day === d)))],
      ['Visitors', ...DAYS.map(() => '1.2K')],
    ]),
    columns: { Visitors: { as: 'measure', key: 'lookedIn' } },
    ...read({ totals: { sold: soldIn(), lookedIn: 16_800 } }),
  },
  {
    name: 'days-as-columns-to-be-asked.csv',
    body: csv(wide((d) => `${d.slice(8)}/10/2026`).map((r) => r.slice(0, 13))),
    asks: ['dates'],
    answer: { dates: 'dmy' },
    ...read({ totals: { value: soldIn(SALES.filter(early)) }, period: '2026-10-01..2026-10-12' }),
  },
  {
    name: 'months-as-columns.csv',
    body: csv([
      ['Shop', 'Aug 2026', 'Sep 2026'],
      ['Quay', 70, 80],
      ['Hill', 7, 8],
    ]),
    ...read({ totals: { value: 165 }, period: '2026-08-01..2026-09-30' }),
  },
  {
    name: 'third-sheet.xlsx',
    body: book({ Cover: sheet([['Sales']]), Notes: sheet([['By'], ['Ines']]), Data: sheet(PLAIN) }),
    says: /the sheet “Data”/,
    ...read(),
  },
  { name: 'days-as-columns.xlsx', body: book({ Sheet: sheet(wide((d) => d)) }), ...read({ totals: VALUES }) },
];

const IN_TWO: readonly (readonly (string | number)[])[] = [
  ['day', 'shop', 'Currency', 'takings'],
  ...SALES.map((s) => [s.day, s.shop, s.shop === 'Quay' ? 'GBP' : 'EUR', money(s)]),
];
const HILL = SALES.filter((s) => s.shop === 'Hill');
const RATES = [
  { currency: 'EUR', from: '2026-10-01', to: '2026-10-07', rate: 0.5 },
  { currency: 'EUR', from: '2026-10-08', to: '2026-10-31', rate: 0.25 },
];
const CONVERTED =
  takenIn(QUAY) +
  takenIn(HILL.filter((s) => s.day <= '2026-10-07')) / 2 +
  takenIn(HILL.filter((s) => s.day > '2026-10-07')) / 4;

const CURRENCIES: MessyFile[] = [
  {
    name: 'two-currencies-unsaid.csv',
    body: csv(IN_TWO),
    asks: ['currency'],
    stops: ['columns.Currency', /what to do with rows in EUR/],
  },
  {
    name: 'two-currencies-left-out.csv',
    body: csv(IN_TWO),
    asks: ['currency'],
    answer: { otherCurrency: 'left-out' },
    totals: { takings: takenIn(QUAY) },
    bad: 14,
    open: false,
  },
  {
    name: 'two-currencies-open.csv',
    body: csv(IN_TWO),
    asks: ['currency'],
    answer: { otherCurrency: 'unknown' },
    totals: { takings: 'none' },
    bad: 14,
    open: true,
  },
  {
    name: 'two-currencies-without-a-rate.csv',
    body: csv(IN_TWO),
    asks: ['currency'],
    answer: { otherCurrency: 'converted' },
    stops: ['columns.Currency', /Enter a rate to convert EUR/],
  },
  {
    name: 'two-currencies-converted.csv',
    body: csv(IN_TWO),
    asks: ['currency'],
    answer: { otherCurrency: 'converted', rates: RATES },
    totals: { takings: CONVERTED },
    bad: 0,
    open: false,
  },
  {
    name: 'two-currencies-half-rated.csv',
    body: csv(IN_TWO),
    asks: ['currency'],
    answer: { otherCurrency: 'converted', rates: RATES.slice(0, 1) },
    totals: { takings: 'partial' },
    bad: 7,
    open: true,
  },
  {
    name: 'two-currencies-split.csv',
    body: csv(IN_TWO),
    asks: ['currency'],
    answer: { otherCurrency: 'split' },
    totals: { takings: takenIn(QUAY), takingsEur: takenIn(HILL) },
    bad: 14,
    open: false,
  },
  {
    name: 'dollars-in-the-heading.csv',
    body: csv([['day', 'Cost (USD)'], ...QUAY.map((s) => [s.day, money(s)])]),
    says: /is in USD, not in GBP/,
    columns: { 'Cost (USD)': { as: 'measure', key: 'adCost', currency: 'USD' } },
    answer: { rates: [{ currency: 'USD', from: '2026-10-01', to: '2026-10-14', rate: 0.5 }] },
    totals: { adCost: takenIn(QUAY) / 2 },
    bad: 0,
  },
  {
    name: 'dollars-unsaid.csv',
    body: csv([['day', 'Cost (USD)'], ...QUAY.map((s) => [s.day, money(s)])]),
    columns: { 'Cost (USD)': { as: 'measure', key: 'adCost' } },
    stops: ['columns.Cost (USD)', /says USD/],
  },
  {
    name: 'own-currency-in-the-heading.csv',
    body: csv([['day', 'takings_gbp'], ...QUAY.map((s) => [s.day, `£${money(s)}`])]),
    totals: { takingsGbp: takenIn(QUAY) },
    bad: 0,
  },
  {
    name: 'one-cell-in-euros.csv',
    body: csv([['day', 'takings'], ...QUAY.map((s, i) => [s.day, i === 3 ? `€${money(s)}` : money(s)])]),
    totals: { takings: 'partial' },
    bad: 1,
    open: true,
  },
];

/** A sheet whose figures are written as money by their format. */
const inMoney = (code: string) => {
  const rows = QUAY.map(
    (s, i) => `<row r="${i + 2}">${cell(`A${i + 2}`, s.day)}<c r="B${i + 2}" s="1"><v>${s.pence / 100}</v></c></row>`,
  );
  const heading = `<row r="1">${cell('A1', 'day')}${cell('B1', 'takings')}</row>`;
  const styles = `<styleSheet><numFmts><numFmt numFmtId="170" formatCode="${code}"/></numFmts><cellXfs><xf numFmtId="0"/><xf numFmtId="170"/></cellXfs></styleSheet>`;
  const files = bookFiles(
    { Sheet: `<sheetData>${heading}${rows.join('')}</sheetData>` },
    { more: { 'xl/styles.xml': styles } },
  );
  return archived(files, new Date('2026-11-02T00:00:00Z'));
};
CURRENCIES.push(
  {
    name: 'euros-by-their-format.xlsx',
    body: inMoney('[$€-407]\\ #,##0.00'),
    says: /is in €, not in GBP/,
    columns: { takings: { as: 'measure', key: 'takings' } },
    stops: ['columns.takings', /format says €/],
  },
  {
    name: 'pounds-by-their-format.xlsx',
    body: inMoney('&quot;£&quot;#,##0.00'),
    totals: { takings: takenIn(QUAY) },
    bad: 0,
  },
);

const BROKEN: MessyFile[] = [
  { name: 'empty.csv', body: '', refused: /empty/ },
  { name: 'one-list.txt', body: JSON.stringify(PLAIN), refused: /JSON Lines/ },
  { name: 'bytes.csv', body: Buffer.from([1, 2, 0, 3, 4, 0, 200, 0]), refused: /Unsupported file/ },
  { name: 'damaged.xlsx', body: Buffer.from('PK\u0003\u0004nothing of the kind', 'latin1'), refused: /damaged/ },
  {
    name: 'sign-in-page.csv',
    body: '<!doctype html>\n<html><title>Sign in</title>\n<body>Your session has ended.</body></html>\n',
    stops: ['mapping', /Choose the date column\./],
  },
  {
    name: 'too-many-cells.csv',
    body: dated((s) => s.day).replace('2026-10-05,Quay,', '2026-10-05,Quay,1,'),
    totals: { sold: 'partial' },
    bad: 1,
    open: true,
  },
];

/** Every messy file, with what is to come of it. */
export const MESSY: readonly MessyFile[] = [...DATES, ...NUMBERS, ...TEXTS, ...SHAPES, ...CURRENCIES, ...BROKEN];

/** Measures that are money; the others are counted. */
export const MONEY: ReadonlySet<string> = new Set(['takings', 'takingsGbp']);
