import { describe, expect, it } from 'vitest';
import {
  type DeliveryState,
  deliveryMayFollow,
  FOLLOWING,
  mayFollow,
  messageIdOf,
  outcomeOf,
  pauseAfter,
  pauseInDoubt,
  pauseOfServer,
} from './index.ts';

describe('the life of an edition', () => {
  it('leaves what is sent where somebody sends it once more or a mail comes back, and never sends what is held or skipped unasked', () => {
    expect(['sending', 'part-sent', 'replaced'].every((to) => mayFollow('sent', to as 'sending'))).toBe(true);
    expect(['planned', 'collecting', 'ready', 'held'].some((to) => mayFollow('sent', to as 'held'))).toBe(false);
    expect(mayFollow('sent', 'replaced')).toBe(true);
    expect(mayFollow('skipped', 'sending')).toBe(false);
    expect(mayFollow('skipped', 'ready')).toBe(false);
    expect(mayFollow('collecting', 'sending')).toBe(false);
    expect(deliveryMayFollow('accepted', 'sending')).toBe(false);
  });

  it('goes back to be drawn anew until it is on its way', () => {
    for (const state of FOLLOWING) expect(state === 'collecting' || mayFollow(state, 'collecting')).toBe(true);
    for (const state of ['sending', 'sent', 'part-sent'] as const) expect(mayFollow(state, 'collecting')).toBe(false);
  });

  it('ends when no delivery is under way', () => {
    const ends = (...states: (DeliveryState | 'doubted')[]) =>
      states.map((s) =>
        s === 'doubted' ? { state: 'uncertain' as const, nextTry: 'x' } : { state: s, nextTry: null },
      );
    expect(outcomeOf(ends('accepted', 'deferred'))).toBeNull();
    expect(outcomeOf(ends('accepted', 'accepted'))).toBe('sent');
    expect(outcomeOf(ends('accepted', 'refused'))).toBe('part-sent');
    expect(outcomeOf(ends('refused', 'refused'))).toBe('held');
    expect(outcomeOf(ends('accepted', 'doubted'))).toBeNull();
    expect(outcomeOf(ends('accepted', 'uncertain'))).toBe('part-sent');
    expect(outcomeOf(ends('accepted', 'withdrawn'))).toBe('sent');
    expect(outcomeOf(ends('withdrawn', 'withdrawn'))).toBe('skipped');
  });

  it('tries a mail in doubt twice more at most, and never calls it refused', () => {
    expect([1, 2, 3].map((n) => pauseInDoubt(n, 0))).toEqual([30, 240, null]);
    expect(deliveryMayFollow('uncertain', 'refused')).toBe(false);
  });

  it('asks a mail server that takes nothing again and again, never more than a quarter of an hour apart', () => {
    const pauses = Array.from({ length: 50 }, (_, i) => pauseOfServer(i + 1));
    expect(Math.max(...pauses)).toBe(15);
    expect(pauses[0]).toBe(1);
  });

  it('waits longer after each failure, and gives a delivery up at last', () => {
    const pauses = Array.from({ length: 7 }, (_, i) => pauseAfter(i + 1, 0)!);
    expect(pauses).toEqual([...pauses].sort((a, b) => a - b));
    expect(pauseAfter(8, 0.5)).toBeNull();
    // By chance each is longer, by a fifth at most: those that were put off together come back apart.
    for (const [i, pause] of pauses.entries()) {
      expect(pauseAfter(i + 1, 0.5)).toBeCloseTo(pause * 1.1, 1);
      expect(pauseAfter(i + 1, 0.999)!).toBeLessThanOrEqual(pause * 1.2);
    }
  });

  it('gives the same mail the same id', () => {
    expect(messageIdOf('ed_1', 'co_2', 0, 'x.example')).toBe(messageIdOf('ed_1', 'co_2', 0, 'x.example'));
    expect(messageIdOf('ed_1', 'co_2', 0, 'x.example')).not.toBe(messageIdOf('ed_1', 'co_2', 1, 'x.example'));
  });
});
