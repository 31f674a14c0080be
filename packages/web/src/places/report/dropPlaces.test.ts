// @vitest-environment happy-dom
import { afterEach, describe, expect, it, vi } from 'vitest';
import type { Block } from './block.ts';
import { keepCopied, readCopied } from './clipboard.ts';
import type { Document } from './documentEdits.ts';
import { dropAtBlock, dropAtPage, dropUnder } from './dropPlaces.ts';

const heading = (id: string): Block => ({ kind: 'heading', id, text: id }) as Block;
const document: Document = {
  version: 2,
  period: { kind: 'unit', unit: 'month', offset: -1 },
  comparison: { kind: 'previous' },
  pages: [
    {
      id: 'p1',
      title: 'One',
      rows: [
        { id: 'r1', blocks: [heading('a')] },
        { id: 'r2', blocks: [heading('b'), heading('c')] },
        { id: 'r3', blocks: ['1', '2', '3', '4', '5', '6'].map(heading) },
      ],
    },
  ],
};
const box = { left: 100, right: 300, top: 50, bottom: 90, width: 200, height: 40 };
const at = (id: string, x: number, y: number) => dropAtBlock(document, id, box, x, y);

describe('what is let go over a block', () => {
  it('comes above or below its row, by the half it lies over, and the line is drawn there', () => {
    expect(at('b', 200, 55)).toEqual({
      target: { kind: 'row', page: 'p1', after: 'r1' },
      mark: { left: 100, top: 48.5, width: 200, height: 3 },
    });
    expect(at('b', 200, 85)!.target).toEqual({ kind: 'row', page: 'p1', after: 'r2' });
    expect(at('b', 200, 85)!.mark.top).toBe(88.5);
    expect(at('a', 200, 55)!.target).toEqual({ kind: 'row', page: 'p1', after: null });
  });

  it('comes beside it at its ends, where the row has room', () => {
    expect(at('c', 110, 70)!.target).toEqual({ kind: 'beside', row: 'r2', after: 'b' });
    expect(at('b', 110, 70)!.target).toEqual({ kind: 'beside', row: 'r2', after: null });
    expect(at('c', 295, 70)).toEqual({
      target: { kind: 'beside', row: 'r2', after: 'c' },
      mark: { left: 298.5, top: 50, width: 3, height: 40 },
    });
    expect(at('3', 295, 85)!.target).toEqual({ kind: 'row', page: 'p1', after: 'r3' });
  });

  it('comes nowhere over what is gone, and first on the page whose title it is over', () => {
    expect(at('gone', 200, 70)).toBeNull();
    expect(dropAtPage('p1', box)).toMatchObject({ target: { kind: 'row', page: 'p1', after: null } });
  });
});

describe('what lies under a hand', () => {
  afterEach(() => {
    window.document.body.innerHTML = '';
    vi.restoreAllMocks();
  });
  const under = (html: string, selector: string, x = 200, y = 85) => {
    window.document.body.innerHTML = html;
    for (const e of window.document.querySelectorAll<HTMLElement>('[data-drop]'))
      e.getBoundingClientRect = () => ({ ...box, x: 100, y: 50, toJSON: () => '' }) as DOMRect;
    const found = selector === '' ? [] : [window.document.querySelector(selector)!];
    window.document.elementsFromPoint = () => found;
    return dropUnder(document, x, y)?.target ?? null;
  };

  it('is a block, a page, or the nearest block of a sheet; else nothing', () => {
    expect(under('<div data-drop="block b"><i></i></div>', 'i')).toEqual({ kind: 'row', page: 'p1', after: 'r2' });
    expect(under('<button data-drop="page p1"></button>', 'button')).toEqual({ kind: 'row', page: 'p1', after: null });
    const sheet = '<div data-drop="sheet"><p></p><span data-drop="block a"></span></div>';
    expect(under(sheet, 'p')).toEqual({ kind: 'row', page: 'p1', after: 'r1' });
    expect(under('<div data-drop="sheet"><p></p></div>', 'p')).toBeNull();
    expect(under('<p></p>', 'p')).toBeNull();
    expect(under('', '')).toBeNull();
  });
});

describe('what was copied', () => {
  it('lies in the browser, and what cannot be read there is nothing', () => {
    expect(readCopied()).toBeNull();
    const copied = { rows: document.pages[0]!.rows, client: 'cl_1' };
    expect(keepCopied(copied)).toBe(true);
    expect(readCopied()).toEqual(copied);
    for (const broken of ['{', '3', '{"rows":1,"client":"x"}', 'null']) {
      localStorage.setItem('chronicon.copied', broken);
      expect(readCopied()).toBeNull();
    }
    const full = () => {
      throw new DOMException('full', 'QuotaExceededError');
    };
    vi.stubGlobal('localStorage', { setItem: full });
    expect(keepCopied(copied)).toBe(false);
    vi.unstubAllGlobals();
  });
});
