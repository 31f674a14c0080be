import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { MOST_GROUPS, MOST_READERS } from '../bounds/index.ts';
import type { ReportDocument } from './document.ts';
import { chooseParts } from './ownOfSchedule.ts';
import { scheduleReaders } from './readers.ts';
import { filterOfGroup, readersGroups } from './readersGroups.ts';
import { leadOf, signOffSpec } from './signOff.ts';

const faults = (found: { error?: { issues: { path: PropertyKey[]; message: string }[] } }) =>
  (found.error?.issues ?? []).map((i) => `${i.path.join('.')}: ${i.message}`);

describe('the readers of a schedule', () => {
  it('are contacts, lists and members, each in a line of its own or in its usual one', () => {
    const readers = [{ contact: 'co_1' }, { list: 'li_1', as: 'bcc' as const }, { member: 'me_1', as: 'cc' as const }];
    expect(scheduleReaders.parse(readers)).toEqual(readers);
  });

  it('are named once each, whatever line they stand in, and are one thing each', () => {
    expect(faults(scheduleReaders.safeParse([{ contact: 'co_1' }, { contact: 'co_1', as: 'bcc' }]))).toEqual([
      ': Choose each reader once.',
    ]);
    expect(scheduleReaders.safeParse([{ contact: 'co_1', list: 'li_1' }]).success).toBe(false);
    expect(scheduleReaders.safeParse([{ contact: 'co_1', as: 'from' }]).success).toBe(false);
  });

  it('are at most as many as a mail is written to', () => {
    const many = (n: number) => Array.from({ length: n }, (_, i) => ({ contact: `co_${i}` }));
    expect(scheduleReaders.safeParse(many(MOST_READERS)).success).toBe(true);
    expect(faults(scheduleReaders.safeParse(many(MOST_READERS + 1)))).toEqual([
      `: Choose at most ${MOST_READERS} readers.`,
    ]);
  });
});

describe('groups of readers', () => {
  const group = (id: string, value: string) => ({ id, value });

  it('say nothing of their own where nothing is said', () => {
    const { groups, without } = readersGroups.parse({ by: 'location', groups: [group('g1', 'Riverside')] });
    expect(groups[0]).toEqual({ ...group('g1', 'Riverside'), filter: [], readers: [], fileName: '', greeting: '' });
    expect(without).toEqual([]);
  });

  it('have a value each, an identity each, and a dimension that exists', () => {
    const refused = (input: object) => faults(readersGroups.safeParse(input));
    expect(refused({ by: 'location', groups: [group('g1', 'A'), group('g2', 'A')] })).toEqual([
      'groups: Each value has one group.',
    ]);
    expect(refused({ by: 'location', groups: [group('g1', 'A'), group('g1', 'B')] })).toEqual([
      'groups: A group is listed twice.',
    ]);
    expect(refused({ by: 'shoeSize', groups: [group('g1', 'A')] })).toEqual(['by: Dimension not found.']);
    expect(refused({ by: 'location', groups: [] })).toEqual(['groups: Choose at least one value.']);
    expect(refused({ by: 'location', groups: [group('g1', '')] })).toEqual(['groups.0.value: Choose a value.']);
  });

  it('are bounded', () => {
    const groups = (n: number) => Array.from({ length: n }, (_, i) => group(`g${i}`, `Value ${i}`));
    expect(readersGroups.safeParse({ by: 'location', groups: groups(MOST_GROUPS) }).success).toBe(true);
    expect(readersGroups.safeParse({ by: 'location', groups: groups(MOST_GROUPS + 1) }).success).toBe(false);
  });

  it('count their value alone, whatever they say beside', () => {
    const { groups } = readersGroups.parse({
      by: 'location',
      groups: [
        { ...group('g1', 'Riverside'), filter: [{ dimension: 'device', how: 'except', values: ['tablet'] }] },
        group('g2', 'Old Mill'),
      ],
    });
    expect(filterOfGroup({ by: 'location' }, groups[0]!)).toEqual([
      { dimension: 'location', how: 'only', values: ['Riverside'] },
      { dimension: 'device', how: 'except', values: ['tablet'] },
    ]);
    expect(filterOfGroup({ by: 'location' }, groups[1]!)).toEqual([
      { dimension: 'location', how: 'only', values: ['Old Mill'] },
    ]);
  });
});

describe('signing off', () => {
  it('asks the client’s manager where nobody is named, and has a time only where one counts', () => {
    expect(signOffSpec.parse({ rule: 'first' })).toEqual({ rule: 'first', asks: null });
    expect(signOffSpec.parse({ rule: 'until', until: '11:00', asks: 'me_1' })).toEqual({
      rule: 'until',
      until: '11:00',
      asks: 'me_1',
    });
    expect(signOffSpec.safeParse({ rule: 'until' }).success).toBe(false);
    expect(signOffSpec.safeParse({ rule: 'until', until: '25:00' }).success).toBe(false);
    expect(signOffSpec.safeParse({ rule: 'first', until: '11:00' }).success).toBe(false);
  });

  it('leaves a person a day to read; where none is asked, three hours are enough to draw', () => {
    expect(leadOf({ rule: 'none' })).toBe(180);
    expect(leadOf({ rule: 'first', asks: null })).toBe(1440);
    expect(leadOf({ rule: 'until', until: '11:00', asks: null })).toBe(1440);
  });
});

describe('the pages of a schedule', () => {
  const page = (id: string, dropped = false) => ({ id, title: id, blocks: [], ...(dropped && { dropped }) });
  const report = (pages: object[]) => ({ pages }) as unknown as ReportDocument;

  it('are all of them where none are named, the same document', () => {
    const document = report([page('a'), page('b')]);
    expect(chooseParts(document, { pages: null })).toBe(document);
    expect(chooseParts(document, { pages: undefined })).toBe(document);
  });

  it('are in the order of the report, and none is there that was not named', () => {
    fc.assert(
      fc.property(
        fc.uniqueArray(fc.string({ minLength: 1, maxLength: 3 }), { minLength: 1, maxLength: 8 }),
        fc.array(fc.string({ minLength: 1, maxLength: 3 }), { maxLength: 8 }),
        fc.nat(255),
        (ids, others, mask) => {
          const named = [...others, ...ids.filter((_, i) => mask & (1 << i))];
          const found = chooseParts(report(ids.map((id) => page(id))), { pages: named });
          const expected = ids.filter((id) => named.includes(id));
          expect(found?.pages.map((p) => p.id) ?? []).toEqual(expected);
        },
      ),
    );
  });

  it('are nothing to send where those named are gone from the report, or dropped', () => {
    expect(chooseParts(report([page('a')]), { pages: ['b'] })).toBeNull();
    expect(chooseParts(report([page('a', true), page('b')]), { pages: ['a'] })).toBeNull();
    expect(chooseParts(report([page('a', true), page('b')]), { pages: ['a', 'b'] })?.pages).toHaveLength(2);
  });
});
