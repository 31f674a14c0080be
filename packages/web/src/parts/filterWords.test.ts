import { describe, expect, it } from 'vitest';
import { filterWords, listed } from './filterWords.ts';

const named = {
  dimensions: [
    { key: 'channel', label: 'Channel' },
    { key: 'device', label: 'Device' },
  ],
  segments: [{ id: 'sg_1', name: 'Phones' }],
};
const part = (dimension: string, how: 'only' | 'except' | 'contains' | 'lacks', ...values: string[]) => ({
  dimension,
  how,
  values,
});

describe('a filter in words', () => {
  it('says what it keeps, by how it keeps it', () => {
    expect(filterWords([], named)).toBe('everything');
    expect(filterWords([part('channel', 'only', 'Email')], named)).toBe('Channel Email');
    expect(filterWords([part('channel', 'except', 'Email', 'Direct')], named)).toBe('Channel not Email and Direct');
    expect(filterWords([part('channel', 'contains', 'search')], named)).toBe('Channel with search');
    expect(filterWords([part('channel', 'lacks', 'search')], named)).toBe('Channel without search');
    expect(filterWords([part('channel', 'only', 'Email'), part('device', 'only', 'Mobile')], named)).toBe(
      'Channel Email, Device Mobile',
    );
  });

  it('names segments, those that are gone, what has no name, and dimensions that nobody knows', () => {
    expect(filterWords([part('segment', 'only', 'sg_1')], named)).toBe('Phones');
    expect(filterWords([part('segment', 'only', 'sg_2')], named)).toBe('a deleted segment');
    expect(filterWords([part('channel', 'only', '')], named)).toBe('Channel (unnamed)');
    expect(filterWords([part('plot', 'only', 'B')], named)).toBe('plot B');
  });

  it('stays short, however many there are', () => {
    expect(listed(['a'])).toBe('a');
    expect(listed(['a', 'b'])).toBe('a and b');
    expect(listed(['a', 'b', 'c'])).toBe('a, b and 1 more');
    expect(listed(Array.from({ length: 400 }, (_, i) => String(i)))).toBe('0, 1 and 398 more');
  });
});
