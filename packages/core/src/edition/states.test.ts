import { describe, expect, it } from 'vitest';
import { deliveryMayFollow, mayFollow, messageIdOf, outcomeOf, pauseAfter } from './index.ts';

describe('the life of an edition', () => {
  it('never leaves what is sent but to be superseded, and never sends what is held or skipped unasked', () => {
    expect(mayFollow('sent', 'sending')).toBe(false);
    expect(mayFollow('sent', 'superseded')).toBe(true);
    expect(mayFollow('skipped', 'gathering')).toBe(false);
    expect(mayFollow('gathering', 'sending')).toBe(false);
    expect(deliveryMayFollow('accepted', 'sending')).toBe(false);
  });

  it('ends when no delivery is under way', () => {
    expect(outcomeOf(['accepted', 'deferred'])).toBeNull();
    expect(outcomeOf(['accepted', 'accepted'])).toBe('sent');
    expect(outcomeOf(['accepted', 'refused'])).toBe('part-sent');
    expect(outcomeOf(['refused', 'refused'])).toBe('held');
  });

  it('waits longer after each failure, and gives a delivery up at last', () => {
    const pauses = Array.from({ length: 7 }, (_, i) => pauseAfter(i + 1)!);
    expect(pauses).toEqual([...pauses].sort((a, b) => a - b));
    expect(pauseAfter(8)).toBeNull();
  });

  it('gives the same mail the same id', () => {
    expect(messageIdOf('ed_1', 'co_2', 0, 'x.example')).toBe(messageIdOf('ed_1', 'co_2', 0, 'x.example'));
    expect(messageIdOf('ed_1', 'co_2', 0, 'x.example')).not.toBe(messageIdOf('ed_1', 'co_2', 1, 'x.example'));
  });
});
