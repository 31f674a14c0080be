import type { MetricUnit } from '@chronicon/core/figures';
import { ZipFile } from 'yazl';
import type { Cell, Table } from './table.ts';
import { xmlText } from './xmlText.ts';

const DAY_SECONDS = 86_400;

/** Number formats of the open workbook format (ECMA-376 part 1, §18.8.31). */
const FORMATS: Record<MetricUnit | 'date', (currency: string) => string> = {
  count: () => '#,##0',
  money: (currency) => `#,##0.00 [$${currency}]`,
  percent: () => '0.0%',
  duration: () => '[h]:mm:ss',
  decimal: () => '0.00',
  position: () => '0.00',
  date: () => 'yyyy-mm-dd',
};
const KINDS = Object.keys(FORMATS) as (keyof typeof FORMATS)[];

/** Styles of cells by their place in the list of them. */
const STYLE = { title: 1, about: 2, head: 3 };
const FIRST_FORMAT = 4;
/** Numbers of formats below are known to every program. */
const OWN_FORMATS = 164;

const MAIN = 'http://schemas.openxmlformats.org/spreadsheetml/2006/main';
const OFFICE = 'http://schemas.openxmlformats.org/officeDocument/2006';
const PACKAGE = 'http://schemas.openxmlformats.org/package/2006';
const TYPES = 'application/vnd.openxmlformats-officedocument.spreadsheetml';
const HEAD = '<?xml version="1.0" encoding="UTF-8" standalone="yes"?>\n';

const part = (path: string, type: string) => `<Override PartName="/${path}" ContentType="${type}"/>`;
const relation = (id: string, type: string, target: string) =>
  `<Relationship Id="${id}" Type="${type}" Target="${target}"/>`;

const contentTypes = (): string =>
  `<Types xmlns="${PACKAGE}/content-types"><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/><Default Extension="xml" ContentType="application/xml"/>${part('xl/workbook.xml', `${TYPES}.sheet.main+xml`)}${part('xl/worksheets/sheet1.xml', `${TYPES}.worksheet+xml`)}${part('xl/styles.xml', `${TYPES}.styles+xml`)}${part('docProps/core.xml', 'application/vnd.openxmlformats-package.core-properties+xml')}${part('docProps/app.xml', 'application/vnd.openxmlformats-officedocument.extended-properties+xml')}</Types>`;

const relations = (...all: string[]): string =>
  `<Relationships xmlns="${PACKAGE}/relationships">${all.join('')}</Relationships>`;

function core({ title, author }: Table, created: string): string {
  const at = (tag: string) => `<dcterms:${tag} xsi:type="dcterms:W3CDTF">${created.slice(0, 19)}Z</dcterms:${tag}>`;
  return `<cp:coreProperties xmlns:cp="${PACKAGE}/metadata/core-properties" xmlns:dc="http://purl.org/dc/elements/1.1/" xmlns:dcterms="http://purl.org/dc/terms/" xmlns:xsi="http://www.w3.org/2001/XMLSchema-instance"><dc:title>${xmlText(title)}</dc:title><dc:creator>${xmlText(author)}</dc:creator><cp:lastModifiedBy>${xmlText(author)}</cp:lastModifiedBy>${at('created')}${at('modified')}</cp:coreProperties>`;
}

const app = ({ author }: Table): string =>
  `<Properties xmlns="${OFFICE}/extended-properties"><Company>${xmlText(author)}</Company></Properties>`;

function styles(currency: string): string {
  const font = (inner: string) => `<font>${inner}<name val="Calibri"/><family val="2"/></font>`;
  const formats = KINDS.map(
    (k, i) => `<numFmt numFmtId="${OWN_FORMATS + i}" formatCode="${xmlText(FORMATS[k](currency))}"/>`,
  );
  const own = (id: number, font: number, more = '') =>
    `<xf numFmtId="${id}" fontId="${font}" fillId="0" borderId="0" xfId="0"${id > 0 ? ' applyNumberFormat="1"' : ''}${font > 0 ? ' applyFont="1"' : ''}${more || '/>'}`;
  const wrapped = ' applyAlignment="1"><alignment vertical="bottom" wrapText="1"/></xf>';
  const cells = [own(0, 0), own(0, 1), own(0, 2), own(0, 3, wrapped), ...KINDS.map((_, i) => own(OWN_FORMATS + i, 0))];
  return `<styleSheet xmlns="${MAIN}"><numFmts count="${formats.length}">${formats.join('')}</numFmts><fonts count="4">${font('<sz val="11"/>')}${font('<b/><sz val="13"/>')}${font('<sz val="11"/><color rgb="FF5B6570"/>')}${font('<b/><sz val="11"/>')}</fonts><fills count="2"><fill><patternFill patternType="none"/></fill><fill><patternFill patternType="gray125"/></fill></fills><borders count="1"><border><left/><right/><top/><bottom/><diagonal/></border></borders><cellStyleXfs count="1"><xf numFmtId="0" fontId="0" fillId="0" borderId="0"/></cellStyleXfs><cellXfs count="${cells.length}">${cells.join('')}</cellXfs><cellStyles count="1"><cellStyle name="Normal" xfId="0" builtinId="0"/></cellStyles></styleSheet>`;
}

const book = (): string =>
  `<workbook xmlns="${MAIN}" xmlns:r="${OFFICE}/relationships"><sheets><sheet name="Figures" sheetId="1" r:id="rId1"/></sheets></workbook>`;

/** The name of a column counted from 0: A, Z, AA. */
function letters(column: number): string {
  const rest = Math.floor(column / 26);
  return (rest > 0 ? letters(rest - 1) : '') + String.fromCharCode(65 + (column % 26));
}

/** What programs would take for an escaped character (ECMA-376 part 1, §22.9.2.19) is escaped itself. */
const plain = (text: string): string => xmlText(text.replace(/_(?=x[0-9a-f]{4}_)/gi, '_x005F_'));

/** Days since the one from which spreadsheets count; they take 1900 for a leap year, so that days before its March differ. */
const FIRST_DATE = '1900-03-01';
const serialOf = (date: string): number => Date.parse(`${date}T00:00:00Z`) / 86_400_000 + 25_569;

function cellXml(cell: Cell, at: string, style: number): string {
  const ofStyle = (s: number) => (s > 0 ? ` s="${s}"` : '');
  const text = (said: string) =>
    `<c r="${at}"${ofStyle(style)} t="inlineStr"><is><t xml:space="preserve">${plain(said)}</t></is></c>`;
  const number = (value: number, kind: keyof typeof FORMATS) =>
    `<c r="${at}" s="${FIRST_FORMAT + KINDS.indexOf(kind)}"><v>${value}</v></c>`;
  switch (cell.kind) {
    case 'text':
      return text(cell.text);
    case 'date':
      return cell.date < FIRST_DATE ? text(cell.date) : number(serialOf(cell.date), 'date');
    case 'number':
      return number(cell.unit === 'duration' ? cell.value / DAY_SECONDS : cell.value, cell.unit);
    case 'empty':
      return '';
  }
}

function sheet(table: Table): string {
  const asText = (text: string): Cell => ({ kind: 'text', text });
  const rows: { cells: Cell[]; style: number }[] = [
    { cells: [asText(table.title)], style: STYLE.title },
    ...table.about.map((line) => ({ cells: [asText(line)], style: STYLE.about })),
    { cells: table.head.map(asText), style: STYLE.head },
    ...table.rows.map((cells) => ({ cells, style: 0 })),
  ];
  const fixed = table.about.length + 2;
  const width = Math.max(1, ...rows.map((r) => r.cells.length));
  const columns = `<col min="1" max="1" width="26" customWidth="1"/>${width > 1 ? `<col min="2" max="${width}" width="16" customWidth="1"/>` : ''}`;
  const lines = rows.map(({ cells, style }, i) => {
    const n = i + 1;
    return `<row r="${n}">${cells.map((c, column) => cellXml(c, letters(column) + n, style)).join('')}</row>`;
  });
  return `<worksheet xmlns="${MAIN}"><sheetViews><sheetView workbookViewId="0"><pane ySplit="${fixed}" topLeftCell="A${fixed + 1}" activePane="bottomLeft" state="frozen"/></sheetView></sheetViews><cols>${columns}</cols><sheetData>${lines.join('')}</sheetData></worksheet>`;
}

/** The same in every zone: the time of day that an archive notes has none. */
const noted = () => ({ mtime: new Date(1980, 0, 1), forceDosTimestamp: true });

/**
 * A table as a workbook (ECMA-376): numbers as numbers, dates as dates, durations as parts of a day; every text is a
 * text, never a formula. `created` goes into the file, so that the same table gives the same workbook.
 */
export async function workbookOf(table: Table, created: string): Promise<Buffer> {
  const zip = new ZipFile();
  const files: [string, string][] = [
    ['[Content_Types].xml', contentTypes()],
    [
      '_rels/.rels',
      relations(
        relation('rId1', `${OFFICE}/relationships/officeDocument`, 'xl/workbook.xml'),
        relation('rId2', `${PACKAGE}/relationships/metadata/core-properties`, 'docProps/core.xml'),
        relation('rId3', `${OFFICE}/relationships/extended-properties`, 'docProps/app.xml'),
      ),
    ],
    ['docProps/core.xml', core(table, created)],
    ['docProps/app.xml', app(table)],
    ['xl/workbook.xml', book()],
    [
      'xl/_rels/workbook.xml.rels',
      relations(
        relation('rId1', `${OFFICE}/relationships/worksheet`, 'worksheets/sheet1.xml'),
        relation('rId2', `${OFFICE}/relationships/styles`, 'styles.xml'),
      ),
    ],
    ['xl/styles.xml', styles(table.currency)],
    ['xl/worksheets/sheet1.xml', sheet(table)],
  ];
  for (const [name, text] of files) zip.addBuffer(Buffer.from(HEAD + text), name, noted());
  zip.end();
  const parts: Buffer[] = [];
  for await (const piece of zip.outputStream) parts.push(piece as Buffer);
  return Buffer.concat(parts);
}
