import { z } from 'zod';
import type { DateStyle, NumberStyle } from './styles.ts';

/** What a description beside a file says of it; what it leaves out is found out from the file. */
export interface FileHints {
  separator: string | null;
  encoding: string | null;
  header: boolean | null;
  /** By the name that stands in the file's heading. */
  columns: Record<string, { type: 'date' | 'number' | 'text'; dates: DateStyle | null; numbers: NumberStyle | null }>;
}

/** A date format by its order of parts: `dd.MM.yyyy` (CSVW) or `%d.%m.%Y` (Table Schema). */
function dateStyle(format: string | undefined): DateStyle | null {
  if (!format || format === 'default' || format === 'any') return format === 'any' ? null : 'ymd';
  const order = format
    .replace(/%B|%b|MMM+/g, 'N')
    .replace(/%d|d+/g, 'D')
    .replace(/%m|M+/g, 'M')
    .replace(/%Y|%y|y+/g, 'Y')
    .replace(/[^DMYN]/g, '');
  if (order.includes('N')) return 'named';
  if (order === 'YMD') return /[^A-Za-z%]/.test(format) ? 'ymd' : 'compact';
  return ({ DMY: 'dmy', MDY: 'mdy', YM: 'month', MY: 'month' } as const)[order as 'DMY'] ?? null;
}

const numberStyle = (decimal: string | undefined): NumberStyle | null =>
  decimal === undefined ? null : decimal === ',' ? 'comma' : 'point';

const numeric =
  /^(number|decimal|integer|int|long|short|byte|float|double|nonNegativeInteger|positiveInteger|unsigned\w+)$/;
const dated = /^(date|datetime|dateTime|dateTimeStamp|yearmonth|gYearMonth)$/;

const typeOf = (type: string | undefined): 'date' | 'number' | 'text' =>
  type === undefined ? 'text' : dated.test(type) ? 'date' : numeric.test(type) ? 'number' : 'text';

const styleOf = (type: string | undefined, format: string | undefined): DateStyle | null => {
  if (typeOf(type) !== 'date') return null;
  if (type === 'yearmonth' || type === 'gYearMonth') return 'month';
  return /time/i.test(type!) && !format ? 'instant' : dateStyle(format);
};

const titles = z.union([
  z.string(),
  z.array(z.string()),
  z.record(z.string(), z.union([z.string(), z.array(z.string())])),
]);
const csvwTable = z.object({
  tableSchema: z.object({
    columns: z.array(
      z.object({
        name: z.string().optional(),
        titles: titles.optional(),
        datatype: z
          .union([
            z.string(),
            z.object({
              base: z.string().optional(),
              format: z
                .union([z.string(), z.object({ decimalChar: z.string().optional(), groupChar: z.string().optional() })])
                .optional(),
            }),
          ])
          .optional(),
      }),
    ),
  }),
  dialect: z
    .object({ delimiter: z.string().optional(), encoding: z.string().optional(), header: z.boolean().optional() })
    .optional(),
});
const csvw = z.union([csvwTable, z.object({ tables: z.array(csvwTable).length(1) })]);

const tableSchema = z.object({
  fields: z.array(
    z.object({
      name: z.string(),
      type: z.string().optional(),
      format: z.string().optional(),
      decimalChar: z.string().optional(),
    }),
  ),
});
const dataResource = z.object({
  schema: tableSchema,
  dialect: z.object({ delimiter: z.string().optional(), header: z.boolean().optional() }).optional(),
  encoding: z.string().optional(),
});
const described = z.union([z.object({ resources: z.array(dataResource).length(1) }), dataResource, tableSchema]);

const allTitles = (t: z.infer<typeof titles> | undefined): string[] =>
  t === undefined ? [] : typeof t === 'string' ? [t] : Array.isArray(t) ? t : Object.values(t).flat();

function fromCsvw(table: z.infer<typeof csvwTable>): FileHints {
  const columns: FileHints['columns'] = {};
  for (const { name, titles: said, datatype } of table.tableSchema.columns) {
    const base = typeof datatype === 'string' ? datatype : (datatype?.base ?? 'string');
    const format = typeof datatype === 'object' ? datatype.format : undefined;
    const hint = {
      type: typeOf(base),
      dates: styleOf(base, typeof format === 'string' ? format : undefined),
      numbers: typeof format === 'object' ? numberStyle(format.decimalChar) : null,
    };
    for (const title of [...allTitles(said), ...(name ? [name] : [])]) columns[title] ??= hint;
  }
  const { delimiter = null, encoding = null, header = null } = table.dialect ?? {};
  return { separator: delimiter, encoding, header, columns };
}

/**
 * Reads a description of tabular data: CSV on the Web metadata (W3C, "Metadata Vocabulary for Tabular Data") or Table
 * Schema, alone, in a data resource or a package with one resource. Null for JSON that is neither.
 */
export function readDescription(json: unknown): FileHints | null {
  const web = csvw.safeParse(json);
  if (web.success) return fromCsvw('tables' in web.data ? web.data.tables[0]! : web.data);
  const parsed = described.safeParse(json);
  if (!parsed.success) return null;
  const found = parsed.data;
  const resource = 'resources' in found ? found.resources[0]! : 'schema' in found ? found : { schema: found };
  const columns: FileHints['columns'] = {};
  for (const { name, type, format, decimalChar } of resource.schema.fields) {
    columns[name] = { type: typeOf(type), dates: styleOf(type, format), numbers: numberStyle(decimalChar) };
  }
  return {
    separator: resource.dialect?.delimiter ?? null,
    encoding: resource.encoding ?? null,
    header: resource.dialect?.header ?? null,
    columns,
  };
}
