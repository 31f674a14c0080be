import { expect, it } from 'vitest';
import type { Op, Scene } from './scene.ts';
import { sceneDifference } from './sceneDifference.ts';

const text = (t: string, x: number): Op => ({
  k: 'text',
  x,
  y: 50,
  w: 60,
  face: 'sans',
  size: 10,
  fill: '#000',
  text: t,
});
const scene = (ops: Op[], more: Partial<Scene> = {}): Scene => ({
  version: 1,
  lang: 'en-GB',
  title: 'Monthly overview',
  author: 'Fernglass Media',
  pages: [{ title: 'P', width: 595, height: 842, ops, blocks: [] }],
  ...more,
});

it('tells in words what is gone, new, elsewhere, and how many pages there are', () => {
  const before = scene([text('Visits', 50), text('1,200', 120), { k: 'rect', x: 0, y: 0, w: 9, h: 9, fill: '#fff' }]);
  expect(sceneDifference(before, structuredClone(before))).toEqual([]);
  expect(sceneDifference(before, scene([text('Visits', 50), text('1,300', 120), before.pages[0]!.ops[2]!]))).toEqual([
    'page 1: gone: “1,200”',
    'page 1: new: “1,300”',
  ]);
  const [a, b, c] = before.pages[0]!.ops as [Op, Op, Op];
  expect(sceneDifference(before, scene([text('Visits', 51), b, c]))).toEqual([
    'page 1: moved: “Visits” from 50, 50 to 51, 50',
  ]);
  expect(sceneDifference(before, scene([text('Visits', 50.01), b, c])).join()).toContain('not seen');
  expect(sceneDifference(before, scene([a, b]))).toEqual(['page 1: lines, areas or pictures differ']);
  const longer = scene(before.pages[0]!.ops, { title: 'Another', pages: [before.pages[0]!, before.pages[0]!] });
  expect(sceneDifference(before, longer)).toEqual([
    'the title: “Monthly overview” became “Another”',
    '1 pages became 2',
  ]);
});
