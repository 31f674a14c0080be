import { describe, expect, it } from 'vitest';
import { LogoError, parseSvgLogo } from './svgLogo.ts';

const svg = (body: string, attributes = 'viewBox="0 0 20 10"') =>
  `<svg xmlns="http://www.w3.org/2000/svg" ${attributes}>${body}</svg>`;

describe('an SVG as a logo', () => {
  it('becomes absolute paths in plain commands, with colours, groups and transforms applied', () => {
    const logo = parseSvgLogo(
      svg(
        '<title>T</title><g fill="#0a0" transform="translate(2 1)"><path d="m0 0h4v3z"/></g><circle cx="5" cy="5" r="2" fill="none" stroke="rgb(255,0,0)" stroke-width="2"/>',
      ),
    );
    expect(logo).toMatchObject({ width: 20, height: 10 });
    expect(logo.paths[0]).toMatchObject({ d: 'M2 1L6 1 6 4Z', fill: '#00aa00', stroke: null });
    expect(logo.paths[1]).toMatchObject({ fill: null, stroke: '#ff0000', strokeWidth: 2 });
    expect(logo.paths[1]!.d).toMatch(/^M[\d. ]+(C[\d. ]+)+Z$/);
  });

  it.each([
    ['a script', svg('<script>alert(1)</script><rect width="5" height="5"/>'), 'script'],
    ['a handler', svg('<rect width="5" height="5" onload="alert(1)"/>'), 'script'],
    [
      'an outside reference',
      svg(
        '<a xlink:href="http://x.example" xmlns:xlink="http://www.w3.org/1999/xlink"><rect width="5" height="5"/></a>',
      ),
      'external',
    ],
    ['text', svg('<text>Hi</text>'), '<text>'],
    ['a gradient', svg('<defs><linearGradient/></defs><rect width="5" height="5"/>'), 'linearGradient'],
    ['paint from elsewhere', svg('<rect width="5" height="5" fill="url(#g)"/>'), 'url(#g)'],
    ['a document type', `<!DOCTYPE svg [<!ENTITY a "b">]>${svg('<rect width="5" height="5"/>')}`, 'document type'],
    ['no size', svg('<rect width="5" height="5"/>', ''), 'viewBox'],
    ['nothing to draw', svg(''), 'is empty'],
    ['broken XML', '<svg viewBox="0 0 1 1"><rect', 'Invalid SVG'],
  ])('is refused with %s, saying so', (_, text, word) => {
    expect(() => parseSvgLogo(text)).toThrow(LogoError);
    expect(() => parseSvgLogo(text)).toThrow(word);
  });
});
