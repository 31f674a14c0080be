import { MOST_GROUPS } from '@chronicon/core/bounds';
import { describe, expect, it } from 'vitest';
import type { StoredContact } from '../store/clients.ts';
import { groupsFrom } from './groupsFile.ts';

const contact = (id: string, email: string) => ({ id, email }) as StoredContact;
const known = {
  contacts: [contact('co_1', 'orla@mosswick.example'), contact('co_2', 'tobin@mosswick.example')],
  lists: [{ id: 'li_1', name: 'Board', contacts: ['co_2'] }],
  values: ['Riverside', 'Old Mill'],
};
const read = (...rows: string[]) => groupsFrom(rows.join('\n'), known);
const short = (found: ReturnType<typeof groupsFrom>) =>
  found.groups.map((g) => [g.value, g.readers.map((r) => Object.values(r)[0])]);

describe('groups of readers out of CSV', () => {
  it('have the readers of all rows that name their value, each once', () => {
    const found = read(
      'Location,E-mail address',
      'Riverside,orla@mosswick.example',
      'Old Mill,Tobin@Mosswick.example',
      'Riverside,board',
      'Riverside,ORLA@mosswick.example',
    );
    expect(short(found)).toEqual([
      ['Riverside', ['co_1', 'li_1']],
      ['Old Mill', ['co_2']],
    ]);
    expect(found.problems).toEqual([]);
  });

  it('are written as the data writes them; a value that it does not have is taken, and said', () => {
    const found = read('value', 'RIVERSIDE', 'old mill', 'North Yard');
    expect(short(found)).toEqual([
      ['Riverside', []],
      ['Old Mill', []],
      ['North Yard', []],
    ]);
    expect(found.problems).toEqual([{ line: 4, text: 'The data has no “North Yard” so far.' }]);
  });

  it('have greetings and file names: of a value’s rows the last that says one', () => {
    const { groups } = read(
      'value;reader;greeting;file name',
      'Riverside;board;"Dear all; and others,";Riverside {{period.label}}',
      'Riverside;orla@mosswick.example;;',
    );
    expect(groups[0]).toMatchObject({ greeting: 'Dear all; and others,', fileName: 'Riverside {{period.label}}' });
  });

  it('leave out what names nobody and nothing, by its row, and take the rest', () => {
    const found = read(
      'value,reader',
      ',orla@mosswick.example',
      '',
      'Riverside,stranger@elsewhere.example',
      'Old Mill,tobin@mosswick.example',
    );
    expect(found.problems).toEqual([
      { line: 2, text: 'Value missing.' },
      { line: 4, text: 'stranger@elsewhere.example isn’t a contact or list of this client. Add it first.' },
    ]);
    expect(short(found)).toEqual([
      ['Riverside', []],
      ['Old Mill', ['co_2']],
    ]);
  });

  it('are no more than a schedule may have', () => {
    const rows = Array.from({ length: MOST_GROUPS + 2 }, (_, i) => `Place ${i}`);
    const found = groupsFrom(['value', ...rows].join('\n'), { ...known, values: rows });
    expect(found.groups).toHaveLength(MOST_GROUPS);
    expect(found.problems.map((p) => p.line)).toEqual([MOST_GROUPS + 2, MOST_GROUPS + 3]);
  });

  it('tell of so many problems one by one, and how many more there are', () => {
    const rows = Array.from({ length: 1100 }, () => 'Riverside,nobody@elsewhere.example');
    const { groups, problems } = read('value,reader', ...rows);
    expect(groups).toHaveLength(1);
    expect(problems).toHaveLength(51);
    expect(problems.at(-1)).toEqual({ line: 52, text: 'From here on, 1,050 more.' });
  });

  it('have an identity of their own each time, and need a column of values', () => {
    const id = () => read('value', 'Riverside').groups[0]!.id;
    expect(id()).not.toBe(id());
    const refusal = (text: string) => {
      try {
        groupsFrom(text, known);
      } catch (e) {
        return (e as { fields?: object }).fields;
      }
      return null;
    };
    for (const text of ['', 'orla@mosswick.example', 'reader,greeting\nBoard,Hello']) {
      expect(refusal(text)).toEqual({
        text: 'The first row must be column headings and include “value”.',
      });
    }
    // A mark of the order of bytes, as spreadsheets write it, belongs to no column's name.
    expect(groupsFrom('\uFEFFvalue\nRiverside', known).groups).toHaveLength(1);
  });
});
