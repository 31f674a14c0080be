import { MOST_CLIENT_ROWS } from '@chronicon/core/bounds';
import { ENCODING_LABELS, guessSeparator } from '@chronicon/core/feeds';
import Papa from 'papaparse';
import { guessEncoding } from '../../feeds/files/encoding.ts';
import { atField } from '../../platform/refusal.ts';

/** What a column may be called: letters alone, as people write it. */
const COLUMNS = {
  reference: ['id', 'clientid', 'externalid', 'reference', 'ref', 'clientnumber', 'customernumber', 'customerid'],
  client: ['client', 'clientname', 'company', 'customer'],
  site: ['website', 'site', 'domain', 'url'],
  zone: ['timezone', 'zone'],
  currency: ['currency'],
  language: ['language', 'reportlanguage'],
  tags: ['tags', 'tag', 'labels'],
  manager: ['manager', 'manageremail', 'accountmanager'],
  firstName: ['firstname', 'givenname', 'contact', 'contactname', 'name'],
  lastName: ['lastname', 'surname', 'familyname'],
  email: ['email', 'contactemail', 'mail', 'emailaddress'],
  role: ['role', 'jobtitle', 'position'],
  phone: ['phone', 'telephone', 'mobile'],
  notes: ['notes', 'note', 'remarks'],
} as const;
type Column = keyof typeof COLUMNS;

export interface Row {
  line: number;
  cells: Record<Column, string>;
}

/** What was brought as text, with its encoding where that was found out of a file's bytes. @throws Refusal at `text` */
export function textOf({ text, bytes }: { text: string; bytes: string | null }): {
  text: string;
  encoding: string | null;
} {
  if (bytes === null) {
    if (text.trim() === '') throw atField('text', 'Choose a file, or paste rows.');
    return { text, encoding: null };
  }
  const data = Buffer.from(bytes, 'base64');
  const encoding = guessEncoding(data);
  return { text: new TextDecoder(encoding).decode(data), encoding: ENCODING_LABELS[encoding] };
}

/** The rows of a text in CSV, with the columns that were understood. @throws Refusal at `text` */
export function readRows(text: string): { rows: Row[]; unread: string[] } {
  const plain = text.replace(/^\uFEFF/, '');
  const { data } = Papa.parse<string[]>(plain, { skipEmptyLines: false, delimiter: guessSeparator(plain) });
  const [head = [], ...body] = data;
  const keyOf = (cell: string): Column | null => {
    const plain = cell.toLowerCase().replace(/[^a-z]/g, '');
    return (
      (Object.entries(COLUMNS).find(([, names]) => (names as readonly string[]).includes(plain))?.[0] as Column) ?? null
    );
  };
  const keys = head.map(keyOf);
  if (!keys.includes('client')) {
    throw atField(
      'text',
      'The first row must be column headings and include “Client”. Optional: Id, Website, Time zone, Currency, Language, Tags, Manager, First name, Last name, Email, Role, Phone, Notes.',
    );
  }
  const filled = body.map((cells, i) => ({ line: i + 2, cells })).filter((r) => r.cells.some((c) => c.trim() !== ''));
  if (filled.length > MOST_CLIENT_ROWS) throw atField('text', `Import up to ${MOST_CLIENT_ROWS} rows at a time.`);
  const blank = Object.fromEntries(Object.keys(COLUMNS).map((k) => [k, ''])) as Record<Column, string>;
  return {
    unread: head.filter((h, i) => keys[i] === null && h.trim() !== ''),
    rows: filled.map(({ line, cells }) => {
      const named = { ...blank };
      // Of two columns for one thing, the first that says something stands.
      for (const [i, key] of keys.entries()) if (key && named[key] === '') named[key] = (cells[i] ?? '').trim();
      return { line, cells: named };
    }),
  };
}

/** The first problem of an input, as a sentence for the person who brought it. */
export const first = (error: { issues: { message: string; path: PropertyKey[] }[] }): string => {
  const issue = error.issues[0]!;
  return `${String(issue.path.at(-1) ?? '')}: ${issue.message}`.replace(/^: /, '');
};
