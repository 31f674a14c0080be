import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { createPrecedence } from './precedence.ts';

beforeEach(() => void vi.useFakeTimers());
afterEach(() => void vi.useRealTimers());

/** Work that ends when it is told to. */
function work() {
  let end = () => {};
  const ended = new Promise<void>((resolve) => {
    end = resolve;
  });
  return { end, ended };
}

describe('who goes first', () => {
  it('is anybody while no person waits', async () => {
    const order: string[] = [];
    await createPrecedence()
      .turn()
      .then(() => order.push('step'));
    expect(order).toEqual(['step']);
    expect(vi.getTimerCount()).toBe(0);
  });

  it('is every person who waits; then all steps, each once', async () => {
    const { first, turn } = createPrecedence();
    const order: string[] = [];
    const [a, b] = [work(), work()];
    const answers = [
      first(() => a.ended).then(() => order.push('a')),
      first(() => b.ended).then(() => order.push('b')),
    ];
    const steps = [1, 2].map((n) => turn().then(() => order.push(`step ${n}`)));
    a.end();
    await answers[0];
    expect(order).toEqual(['a']);
    b.end();
    await Promise.all([...answers, ...steps]);
    expect([...order].sort()).toEqual(['a', 'b', 'step 1', 'step 2']);
    expect(vi.getTimerCount()).toBe(0);
  });

  it('is a step all the same that has given way for a moment', async () => {
    const { first, turn } = createPrecedence(100);
    const slow = work();
    const answer = first(() => slow.ended);
    let isOn = false;
    const step = turn().then(() => {
      isOn = true;
    });
    await vi.advanceTimersByTimeAsync(99);
    expect(isOn).toBe(false);
    await vi.advanceTimersByTimeAsync(1);
    expect(isOn).toBe(true);
    slow.end();
    await Promise.all([answer, step]);
  });

  it('is no person any more who waits for something else than this thread', async () => {
    const { first, turn } = createPrecedence(100, 500);
    const slow = work();
    const answer = first(() => slow.ended);
    await vi.advanceTimersByTimeAsync(500);
    await turn();
    slow.end();
    await answer;
    expect(vi.getTimerCount()).toBe(0);
  });

  it('is no person any more whose answer failed', async () => {
    const { first, turn } = createPrecedence();
    const failed = first(() => Promise.reject(new Error('no')));
    const step = turn();
    await expect(failed).rejects.toThrow('no');
    await step;
    await turn();
  });
});
