import type { Client } from '@chronicon/core/contract';
import { describe, expect, it } from 'vitest';
import { partLabel, partWords } from './partWords.ts';
import { readersWords } from './readersText.ts';

const client = {
  contacts: [
    { id: 'co_1', firstName: 'Orla', lastName: 'Fenwick' },
    { id: 'co_2', firstName: 'Tobin', lastName: '' },
  ],
  lists: [{ id: 'li_1', name: 'Board', contacts: [] }],
} as unknown as Client;
const colleagues = [{ id: 'me_1', name: 'Ines Tallow' }];
const reports = [{ id: 're_1', title: 'Monthly overview' }];
const words = (part: string, value: unknown) => partWords(part, value, { client, colleagues, reports });

describe('readers as a part of a sentence', () => {
  it('are two by name, or one and how many more', () => {
    const of = (...readers: Parameters<typeof readersWords>[2]) => readersWords(client, colleagues, readers);
    expect(of({ contact: 'co_1' })).toBe('Orla Fenwick');
    expect(of({ contact: 'co_2' }, { list: 'li_1' })).toBe('Tobin and Board');
    expect(of({ member: 'me_1' }, { contact: 'co_1' }, { list: 'li_1' })).toBe('Ines Tallow and 2 more');
    expect(of()).toBe('');
  });

  it('that are gone are not passed over', () => {
    expect(readersWords(client, colleagues, [{ contact: 'co_9' }, { list: 'li_9' }])).toBe(
      'a removed reader and a deleted list',
    );
  });
});

describe('a part of a schedule in its history', () => {
  it('is called as the sentence calls it', () => {
    expect(partLabel('rule')).toBe('Rhythm');
    expect(partLabel('somethingElse')).toBe('somethingElse');
  });

  it('is said by what things are called now', () => {
    expect(words('reportId', 're_1')).toBe('Monthly overview');
    expect(words('reportId', 're_9')).toBe('a deleted report');
    expect(words('readers', [{ contact: 'co_1' }])).toBe('Orla Fenwick');
    expect(words('readers', [])).toBe('nobody');
    expect(words('rule', { freq: 'monthly', every: 1, on: { workday: 2 } })).toBe('the 2nd working day of each month');
  });

  it('says single runs with all that is otherwise about each', () => {
    expect(words('exceptions', {})).toBe('none');
    const said = words('exceptions', {
      '2026-11-03': { skipped: true },
      '2026-12-03': {
        moved: { date: '2026-12-07', time: '09:30' },
        covers: { from: '2026-11-01', to: '2026-11-30' },
      },
    });
    const [first, second] = said.split('; ');
    expect(first).toMatch(/^3 Nov.* skipped$/);
    expect(second).toMatch(/^3 Dec.* moved to 7 Dec.*, 09:30, covers 1 Nov.* – 30 Nov/);
  });

  it('says what is empty as what that means', () => {
    expect(words('lastDate', null)).toBe('no end');
    expect(words('pages', null)).toBe('all');
    expect(words('pages', ['p1'])).toBe('1 page');
    expect(words('groups', null)).toBe('none');
    expect(words('fileName', '')).toBe('as usual');
    expect(words('language', null)).toBe('as usual');
    expect(words('filter', [])).toBe('none');
    expect(words('archive', true)).toBe('yes');
    expect(words('signOff', { rule: 'first', asks: null })).toBe('asks first');
    expect(words('mailing', 'one')).toBe('one for all');
  });

  it('keeps a long message short', () => {
    expect(words('message', 'x'.repeat(200))).toBe(`${'x'.repeat(80)}…`);
    expect(words('message', 'x'.repeat(80))).toBe('x'.repeat(80));
  });
});
