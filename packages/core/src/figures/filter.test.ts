import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { type Filter, filterKey, isPlain, joinFilters, keeperOf } from './filter.ts';
import { FILTER_HOWS, filterOf } from './filterPart.ts';

const LABELS = ['Email', 'email offers', 'Direct', 'Paid search', ''];
const part = fc.record({
  dimension: fc.constantFrom('channel', 'device'),
  how: fc.constantFrom(...FILTER_HOWS),
  values: fc.subarray(['Email', 'Direct', 'paid', 'Social'], { minLength: 1 }),
});
const passes = (filter: Filter, row: Record<string, string>) =>
  Object.entries(filter).every(([dimension, rule]) => keeperOf(rule)(row[dimension]!));

describe('a filter', () => {
  it.each([
    ['only', ['Email', 'Direct'], ['Email', 'Direct']],
    ['except', ['Email', 'Direct'], ['email offers', 'Paid search', '']],
    ['contains', ['EMAIL', 'paid'], ['Email', 'email offers', 'Paid search']],
    ['lacks', ['EMAIL', 'paid'], ['Direct', '']],
  ] as const)('of values that are taken as “%s” %j keeps %j', (how, values, kept) => {
    const filter = filterOf([{ dimension: 'channel', how, values }]);
    expect(LABELS.filter(keeperOf(filter.channel!))).toEqual(kept);
  });

  it('keeps what each of its parts keeps, several of one dimension among them', () => {
    fc.assert(
      fc.property(
        fc.array(part, { maxLength: 4 }),
        fc.constantFrom(...LABELS),
        fc.constantFrom(...LABELS),
        (parts, a, b) => {
          const row = { channel: a, device: b };
          expect(passes(filterOf(parts), row)).toBe(parts.every((p) => passes(filterOf([p]), row)));
        },
      ),
    );
  });

  it('is the same one, however its parts and values are ordered', () => {
    fc.assert(
      fc.property(fc.array(part, { maxLength: 4 }), (parts) => {
        const turned = [...parts].reverse().map((p) => ({ ...p, values: [...p.values].reverse() }));
        expect(filterKey(filterOf(turned))).toBe(filterKey(filterOf(parts)));
      }),
    );
  });

  it('of lists alone stays one that a service can be asked for', () => {
    const joined = joinFilters([
      { channel: ['Email', 'Direct'] },
      { channel: ['Direct', 'Social'], device: ['Mobile'] },
    ]);
    expect(joined).toEqual({ channel: ['Direct'], device: ['Mobile'] });
    expect(isPlain(joined)).toBe(true);
    expect(isPlain(filterOf([{ dimension: 'channel', how: 'except', values: ['Email'] }]))).toBe(false);
  });

  it('without values keeps everything', () => {
    expect(filterOf([{ dimension: 'channel', how: 'only', values: [] }])).toEqual({});
  });
});
