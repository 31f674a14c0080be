import { MOST_GROUPS } from '@chronicon/core/bounds';
import type { ReadersGroup, ScheduleReader } from '@chronicon/core/report';
import Papa from 'papaparse';
import { atField } from '../platform/refusal.ts';
import type { StoredContact } from '../store/clients.ts';
import { newId } from '../store/ids.ts';
import type { ReaderList } from '../store/readerLists.ts';

/** What a column may be called: letters alone, as people write it. */
const COLUMNS = {
  value: ['value', 'group', 'location', 'market', 'advertiser', 'lineitem', 'site', 'name'],
  reader: ['email', 'reader', 'contact', 'mail', 'emailaddress', 'list', 'to'],
  greeting: ['greeting', 'salutation'],
  fileName: ['file', 'filename'],
} as const;
type Column = keyof typeof COLUMNS;
/** Problems that are told one by one. */
const TOLD = 50;

const columnOf = (cell: string): Column | null => {
  const plain = cell.toLowerCase().replace(/[^a-z]/g, '');
  return (Object.keys(COLUMNS) as Column[]).find((c) => (COLUMNS[c] as readonly string[]).includes(plain)) ?? null;
};

/**
 * Groups of readers out of CSV. A row names a value and one reader, by address or by the name of a list; several rows may
 * name one value. What cannot be read is left out, and said.
 * @throws Refusal at `text` for one without a column of values
 */
export function groupsFrom(
  text: string,
  known: { contacts: readonly StoredContact[]; lists: readonly ReaderList[]; values: readonly string[] },
): { groups: ReadersGroup[]; problems: { line: number; text: string }[] } {
  const { data } = Papa.parse<string[]>(text.replace(/^\uFEFF/, ''), { skipEmptyLines: false });
  const [head = [], ...body] = data;
  const columns = head.map(columnOf);
  if (!columns.includes('value')) {
    throw atField('text', 'The first row must be column headings and include “value”.');
  }
  const groups = new Map<string, ReadersGroup>();
  const problems: { line: number; text: string }[] = [];
  for (const [i, cells] of body.entries()) {
    const line = i + 2;
    const cell = (column: Column) => (cells[columns.indexOf(column)] ?? '').trim();
    const [written, named] = [cell('value'), cell('reader')];
    if (written === '' && cells.every((c) => c.trim() === '')) continue;
    if (written === '') {
      problems.push({ line, text: 'Value missing.' });
      continue;
    }
    // As the data writes it, however somebody typed it.
    const value = known.values.find((v) => v.toLowerCase() === written.toLowerCase()) ?? written;
    if (!known.values.includes(value)) problems.push({ line, text: `The data has no “${value}” so far.` });
    if (!groups.has(value) && groups.size === MOST_GROUPS) {
      problems.push({ line, text: `A schedule has at most ${MOST_GROUPS} groups.` });
      continue;
    }
    const group = groups.get(value) ?? { id: newId('gr'), value, filter: [], readers: [], fileName: '', greeting: '' };
    groups.set(value, group);
    if (cell('greeting') !== '') group.greeting = cell('greeting').slice(0, 200);
    if (cell('fileName') !== '') group.fileName = cell('fileName').slice(0, 200);
    if (named === '') continue;
    const contact = known.contacts.find((c) => c.email === named.toLowerCase());
    const list = known.lists.find((l) => l.name.toLowerCase() === named.toLowerCase());
    const reader: ScheduleReader | null = contact ? { contact: contact.id } : list ? { list: list.id } : null;
    if (reader === null)
      problems.push({ line, text: `${named} isn’t a contact or list of this client. Add it first.` });
    else if (!group.readers.some((r) => JSON.stringify(r) === JSON.stringify(reader))) group.readers.push(reader);
  }
  const more = problems.length - TOLD;
  const told = problems.slice(0, TOLD);
  if (more > 0) told.push({ line: problems[TOLD]!.line, text: `From here on, ${more.toLocaleString('en-GB')} more.` });
  return { groups: [...groups.values()], problems: told };
}
