import { describe, expect, it } from 'vitest';
import { ACTS } from './BlockActs.tsx';
import { askedBy } from './composerKeys.ts';

const key = (name: string, ...held: ('alt' | 'shift' | 'ctrl' | 'meta')[]) =>
  askedBy({
    key: name,
    altKey: held.includes('alt'),
    shiftKey: held.includes('shift'),
    ctrlKey: held.includes('ctrl'),
    metaKey: held.includes('meta'),
  });

describe('keys of the composer', () => {
  it('do every act that the buttons do, by the keys that those name', () => {
    const named: Record<string, string> = { '↑': 'ArrowUp', '↓': 'ArrowDown', '←': 'ArrowLeft', '→': 'ArrowRight' };
    const more: Record<string, string> = { PgUp: 'PageUp', PgDn: 'PageDown', Del: 'Delete' };
    for (const { key: act, keys } of ACTS) {
      const parts = keys.split(' ');
      const last = parts.pop()!;
      const held = parts.map((p) => p.toLowerCase() as 'alt' | 'shift' | 'ctrl');
      expect(key(named[last] ?? more[last] ?? last, ...held)).toEqual({ act });
    }
  });

  it('choose, copy, paste and take back as anywhere', () => {
    expect(key('ArrowDown')).toEqual({ step: 1, more: false });
    expect(key('ArrowUp', 'shift')).toEqual({ step: -1, more: true });
    expect(key('v', 'meta')).toEqual({ do: 'paste' });
    expect(key('x', 'ctrl')).toEqual({ do: 'cut' });
    expect(key('z', 'ctrl')).toEqual({ do: 'undo' });
    expect(key('Z', 'ctrl', 'shift')).toEqual({ do: 'redo' });
    expect(key('a', 'ctrl')).toEqual({ do: 'all' });
  });

  it('leave to the browser what is its own', () => {
    for (const own of [key('r', 'ctrl'), key('ArrowLeft'), key('Tab'), key('c'), key('v', 'ctrl', 'shift'), key('F5')])
      expect(own).toBeNull();
  });
});
