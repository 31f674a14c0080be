import { toDayNumber } from '@chronicon/core/calendar';
import { datasetFor } from '@chronicon/core/figures';
import { describe, expect, it } from 'vitest';
import type { Member } from './coveredShape.ts';
import { PAST } from './feedPast.ts';
import { spanFamilies } from './span.ts';

const day = toDayNumber('2026-10-01');
const of = (feed: string, key: string, dimensions: string[], measures: string[], kind = 'paid-ads'): Member => ({
  id: `${feed}.${key}`,
  feedId: feed,
  feedName: feed,
  family: `${kind}.${key}`,
  key,
  name: key,
  firstDay: '2026-10-01',
  ended: null,
  dimensions,
  measures,
  covered: [[day, day + 30]],
  past: PAST,
  until: null,
});
/** Which stored datasets answer for these measures and dimensions. */
const answers = (members: Member[], measures: string[], dimensions: string[] = []) =>
  datasetFor(spanFamilies(members), measures, dimensions)?.id.replace(/\+$/, '') ?? null;

describe('two services of one kind whose datasets have other names', () => {
  const larkpost = of('larkpost', 'campaigns', ['campaign', 'network'], ['adCost', 'adClicks', 'adConversions']);
  const plover = of('plover', 'delivery', ['campaign'], ['adCost', 'adClicks']);
  const both = [larkpost, plover];

  it('are added up in what both bring, in total, by what both know, and by feed', () => {
    const whole = 'larkpost.campaigns+plover.delivery';
    expect(answers(both, ['adCost'])).toBe(whole);
    expect(answers(both, ['adCost', 'adClicks'])).toBe(whole);
    expect(answers(both, ['adCost'], ['campaign'])).toBe(whole);
    expect(answers(both, ['adCost'], ['feed'])).toBe(whole);
    expect(spanFamilies(both)[0]!.parts!.map((p) => p.feed)).toEqual(['larkpost', 'plover']);
  });

  it('never read as the whole where one of them does not know the breakdown', () => {
    expect(answers(both, ['adCost'], ['network'])).toBeNull();
    // What one alone brings is its own; a ratio is pooled over those that have both its parts.
    expect(answers(both, ['adConversions'], ['network'])).toBe('larkpost.campaigns');
    expect(answers(both, ['adCost', 'adConversions'])).toBe('larkpost.campaigns');
  });

  it('are one for each name where every feed has it, as two accounts of one service', () => {
    const second = { ...larkpost, id: 'larkpost2.campaigns', feedId: 'larkpost2', feedName: 'larkpost2' };
    expect(spanFamilies([larkpost, second]).map((s) => s.id)).toEqual(['larkpost.campaigns+larkpost2.campaigns']);
    expect(answers([larkpost, second], ['adCost'], ['network'])).toBe('larkpost.campaigns+larkpost2.campaigns');
  });

  it('are never mixed with services of another kind, which count the same thing once more', () => {
    const shop = of('shop', 'orders', ['channel'], ['orders'], 'shop');
    const web = of('web', 'visits', ['channel'], ['orders', 'visits'], 'web-analytics');
    expect(spanFamilies([web, shop]).map((s) => s.id)).toEqual(['web.visits', 'shop.orders']);
  });
});
