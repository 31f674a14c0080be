import { describe, expect, it } from 'vitest';
import { z } from 'zod';
import { DamagedValue, stored, storedOnce } from './stored.ts';

const schema = z.object({ folder: z.string(), parts: z.array(z.object({ size: z.int() })) });

describe('stored values', () => {
  it('are read by their schema', () => {
    expect(stored(schema, 'a folder')('{"folder":"a","parts":[{"size":1}]}')).toEqual({
      folder: 'a',
      parts: [{ size: 1 }],
    });
  });

  it.each([
    ['no JSON', '{"folder":', 'a folder cannot be read (no JSON)'],
    ['another type, deep within', '{"folder":"a","parts":[{"size":"1"}]}', 'a folder cannot be read (parts.0.size)'],
    ['nothing of it', 'null', 'a folder cannot be read (the whole of it)'],
  ])('name what is damaged: %s', (_, text, message) => {
    expect(() => stored(schema, 'a folder')(text)).toThrow(DamagedValue);
    expect(() => stored(schema, 'a folder')(text)).toThrow(message);
  });

  it('that are read once are nobody’s to change', () => {
    const read = storedOnce(schema, 'a folder');
    const text = '{"folder":"a","parts":[{"size":1}]}';
    expect(read(text)).toBe(read(text));
    expect(() => read(text).parts.push({ size: 2 })).toThrow(TypeError);
  });
});
