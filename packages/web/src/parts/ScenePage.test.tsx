// @vitest-environment happy-dom
import type { ScenePage as Page } from '@chronicon/core/page';
import { cleanup, render } from '@testing-library/react';
import { afterEach, describe, expect, it } from 'vitest';
import { ScenePage } from './ScenePage.tsx';

afterEach(cleanup);

const page: Page = {
  title: 'Overview',
  width: 595.28,
  height: 841.89,
  blocks: [{ id: 'b1', x: 40, y: 100, w: 500, h: 60 }],
  ops: [
    { k: 'open', tag: 'H1' },
    { k: 'text', x: 42.52, y: 57.5, w: 90.1, face: 'serifBold', size: 16, fill: '#1c2630', text: 'October  2026' },
    { k: 'close' },
    { k: 'path', d: 'M1 2L3 4', stroke: '#2f6b3a', width: 1.5, dash: [2, 1] },
    { k: 'rect', x: 1, y: 2, w: 3, h: 4, fill: '#dddddd' },
    { k: 'image', x: 5, y: 6, w: 7, h: 8, file: 'abc', alt: 'Logo' },
  ],
};

describe('the painter of the screen', () => {
  it('draws each primitive where the scene says, in order, and lays nothing out', () => {
    const { container } = render(<ScenePage page={page} lang="de-DE" pictures="/pictures" />);
    const svg = container.querySelector('svg')!;
    expect(svg.getAttribute('viewBox')).toBe('0 0 595.28 841.89');
    expect(svg.getAttribute('lang')).toBe('de-DE');
    expect([...svg.children].slice(0, 4).map((e) => e.tagName)).toEqual(['text', 'path', 'rect', 'image']);
    const text = svg.querySelector('text')!;
    expect([text.getAttribute('x'), text.getAttribute('y'), text.getAttribute('font-size')]).toEqual([
      '42.52',
      '57.5',
      '16',
    ]);
    expect(text.textContent).toBe('October  2026');
    expect(svg.querySelector('path')!.getAttribute('stroke-dasharray')).toBe('2 1');
    expect(svg.querySelector('image')!.getAttribute('href')).toBe('/pictures/abc');
  });

  it('shows a part of it alone, where that is asked for', () => {
    const view = { x: 10, y: 20, w: 100, h: 50 };
    const { container } = render(<ScenePage page={page} lang="en" pictures="" view={view} />);
    const svg = container.querySelector('svg')!;
    expect(svg.getAttribute('viewBox')).toBe('10 20 100 50');
    expect(svg.style.aspectRatio).toBe('100 / 50');
  });
});
