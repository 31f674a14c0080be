import { afterEach, describe, expect, it, vi } from 'vitest';
import { createClock, watchClock } from './clock.ts';

afterEach(() => vi.useRealTimers());

describe('a clock that is watched', () => {
  it('was set back where it was, told once; not where a demo moves it on, nor where the network corrects it', () => {
    vi.useFakeTimers({ toFake: ['Date', 'performance'], now: Date.parse('2026-11-03T08:00:00Z') });
    const clock = createClock();
    const wasSetBack = watchClock(clock);
    const set = (seconds: number) => vi.setSystemTime(Date.now() + seconds * 1_000);
    vi.advanceTimersByTime(4_000);
    expect(wasSetBack()).toBe(false);
    clock.moveTo('2026-11-10T08:00:00Z');
    expect(wasSetBack()).toBe(false);
    set(-10);
    expect(wasSetBack()).toBe(false);
    set(7_200);
    expect(wasSetBack()).toBe(false);
    set(-7_200);
    expect([wasSetBack(), wasSetBack()]).toEqual([true, false]);
  });
});
