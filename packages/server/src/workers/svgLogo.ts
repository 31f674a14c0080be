import { DRAWING } from '@chronicon/core/bounds';
import type { Logo } from '@chronicon/core/report';
import { SaxesParser, type SaxesTagNS } from 'saxes';
import svgpath from 'svgpath';

/** Why a picture cannot be a logo, in words for the person who chose it. */
export class LogoError extends Error {}

/** Characters of all transforms that one shape lies under. */
const MOST_TRANSFORM = 4_000;

type VectorLogo = Extract<Logo, { kind: 'vector' }>;

const NAMED: Record<string, string> = {
  black: '#000000',
  white: '#ffffff',
  red: '#ff0000',
  gray: '#808080',
  grey: '#808080',
};
const SHAPES = new Set(['path', 'rect', 'circle', 'ellipse', 'polygon', 'polyline', 'line']);
const QUIET = new Set(['title', 'desc', 'metadata', 'defs']);

interface Style {
  fill: string | null;
  stroke: string | null;
  strokeWidth: number;
  evenOdd: boolean;
  transform: string;
}

/** A colour as six digits; null for none. */
function colourOf(value: string, element: string): string | null {
  const v = value.trim().toLowerCase();
  if (v === 'none' || v === 'transparent') return null;
  if (v === 'currentcolor') return '#000000';
  if (NAMED[v]) return NAMED[v];
  if (/^#[0-9a-f]{6}$/.test(v)) return v;
  if (/^#[0-9a-f]{3}$/.test(v)) return `#${[...v.slice(1)].map((c) => c + c).join('')}`;
  const rgb = /^rgb\(\s*(\d+)\s*,\s*(\d+)\s*,\s*(\d+)\s*\)$/.exec(v);
  if (rgb)
    return `#${rgb
      .slice(1)
      .map((n) => Math.min(255, Number(n)).toString(16).padStart(2, '0'))
      .join('')}`;
  throw new LogoError(`The <${element}> is painted with "${value}". Use plain colours, or upload a PNG.`);
}

type Attributes = Record<string, string>;

function attributesOf(tag: SaxesTagNS): Attributes {
  const plain: Attributes = {};
  for (const [name, attribute] of Object.entries(tag.attributes)) {
    if (/^on/i.test(name)) throw new LogoError('The SVG contains a script. Remove it, or upload a PNG.');
    if (/href$/i.test(name)) throw new LogoError('The SVG links to an external file. Upload a PNG instead.');
    plain[name] = attribute.value;
  }
  // A style attribute says the same as attributes do, and wins over them.
  for (const part of (plain.style ?? '').split(';')) {
    const [name, value] = part.split(':').map((s) => s.trim());
    if (name && value) plain[name] = value;
  }
  return plain;
}

function styleOf(a: Attributes, parent: Style, element: string): Style {
  return {
    fill: a.fill === undefined ? parent.fill : colourOf(a.fill, element),
    stroke: a.stroke === undefined ? parent.stroke : colourOf(a.stroke, element),
    strokeWidth: a['stroke-width'] === undefined ? parent.strokeWidth : Number.parseFloat(a['stroke-width']),
    evenOdd: a['fill-rule'] === undefined ? parent.evenOdd : a['fill-rule'] === 'evenodd',
    transform: `${parent.transform} ${a.transform ?? ''}`.trim(),
  };
}

function outlineOf(element: string, a: Attributes): string {
  const n = (name: string, otherwise = 0) => (a[name] === undefined ? otherwise : Number.parseFloat(a[name]));
  const ellipse = (cx: number, cy: number, rx: number, ry: number) =>
    `M${cx - rx} ${cy}A${rx} ${ry} 0 1 0 ${cx + rx} ${cy}A${rx} ${ry} 0 1 0 ${cx - rx} ${cy}Z`;
  switch (element) {
    case 'path':
      return a.d ?? '';
    case 'rect': {
      const [x, y, w, h] = [n('x'), n('y'), n('width'), n('height')];
      const rx = Math.min(n('rx', n('ry')), w / 2);
      const ry = Math.min(n('ry', n('rx')), h / 2);
      if (rx === 0 || ry === 0) return `M${x} ${y}H${x + w}V${y + h}H${x}Z`;
      const arc = (ex: number, ey: number) => `A${rx} ${ry} 0 0 1 ${ex} ${ey}`;
      return `M${x + rx} ${y}H${x + w - rx}${arc(x + w, y + ry)}V${y + h - ry}${arc(x + w - rx, y + h)}H${x + rx}${arc(x, y + h - ry)}V${y + ry}${arc(x + rx, y)}Z`;
    }
    case 'circle':
      return ellipse(n('cx'), n('cy'), n('r'), n('r'));
    case 'ellipse':
      return ellipse(n('cx'), n('cy'), n('rx'), n('ry'));
    case 'line':
      return `M${n('x1')} ${n('y1')}L${n('x2')} ${n('y2')}`;
    default: {
      const points = (a.points ?? '')
        .trim()
        .split(/[\s,]+/)
        .map(Number);
      const pairs = points.flatMap((x, i) => (i % 2 === 0 ? [`${x} ${points[i + 1]}`] : []));
      return `M${pairs.join('L')}${element === 'polygon' ? 'Z' : ''}`;
    }
  }
}

/** Everything as absolute M, L, C, Q and Z, with transforms applied. */
function plainPath(d: string, transform: string): string {
  const path = svgpath(d).abs().unarc().unshort().transform(transform).abs();
  let x = 0;
  let y = 0;
  path.iterate((segment, _i, px, py) => {
    [x, y] = [px, py];
    if (segment[0] === 'H') return [['L', segment[1] as number, y]];
    if (segment[0] === 'V') return [['L', x, segment[1] as number]];
    return undefined;
  });
  const text = path.round(3).toString().replace(/z/g, 'Z');
  if (text.includes('NaN') || (d.trim() !== '' && text === '')) throw new LogoError('A path of the SVG can’t be read.');
  // Written out in full: every command with its letter and numbers parted by blanks.
  return text.replace(/([MLCQ])([^MLCQZ]*)/g, (_, c: string, rest: string) => {
    const numbers = rest.match(/-?(?:\d+\.?\d*|\.\d+)(?:e-?\d+)?/gi) ?? [];
    return c + numbers.join(' ');
  });
}

/**
 * Reads an SVG as a logo: shapes and paths in plain colours become paths of the page. Scripts, outside references,
 * text, pictures and effects are refused rather than dropped.
 * @throws LogoError that says what is in the way
 */
export function parseSvgLogo(svg: string): VectorLogo {
  const paths: VectorLogo['paths'] = [];
  const stack: Style[] = [{ fill: '#000000', stroke: null, strokeWidth: 1, evenOdd: false, transform: '' }];
  let box: [number, number, number, number] | null = null;
  let quiet = 0;
  let [elements, length] = [0, 0];
  const tooMuch = (what: string) => new LogoError(`The SVG ${what}. Simplify it, or upload a PNG.`);
  if (Buffer.byteLength(svg) > DRAWING.bytes) throw tooMuch(`is larger than ${DRAWING.bytes / 1024 / 1024} MB`);
  const parser = new SaxesParser({ xmlns: true });
  parser.on('doctype', () => {
    throw new LogoError('The SVG declares a document type. Save it as plain SVG, or upload a PNG.');
  });
  parser.on('error', (error) => {
    throw new LogoError(`Invalid SVG: ${error.message}.`);
  });
  parser.on('opentag', (tag) => {
    // The document itself stands on the stack, too.
    if (stack.length > DRAWING.depth) throw tooMuch(`nests more than ${DRAWING.depth} groups`);
    if (++elements > DRAWING.elements) throw tooMuch(`has more than ${DRAWING.elements} elements`);
    const a = attributesOf(tag as SaxesTagNS);
    const element = tag.local;
    const style = styleOf(a, stack.at(-1)!, element);
    if (element === 'script') throw new LogoError('The SVG contains a script. Remove it, or upload a PNG.');
    if (element === 'svg' && box === null) {
      const view = (a.viewBox ?? '')
        .trim()
        .split(/[\s,]+/)
        .map(Number);
      const size = [a.width, a.height].map((v) => Number.parseFloat(v ?? ''));
      if (view.length === 4 && view.every(Number.isFinite)) box = view as [number, number, number, number];
      else if (size.every((v) => v > 0)) box = [0, 0, size[0]!, size[1]!];
      else throw new LogoError('The SVG has no size: it needs a viewBox.');
      style.transform = `translate(${-box[0]} ${-box[1]}) ${style.transform}`.trim();
    } else if (QUIET.has(element)) quiet++;
    else if (quiet > 0)
      throw new LogoError(`The SVG defines a <${element}>. Save it with plain shapes, or upload a PNG.`);
    else if (SHAPES.has(element)) {
      const outline = outlineOf(element, a);
      length += outline.length;
      if (length > DRAWING.path) throw tooMuch(`has paths of more than ${DRAWING.path} characters`);
      if (style.transform.length > MOST_TRANSFORM) throw tooMuch('moves its shapes about too often');
      const d = plainPath(outline, style.transform);
      const { fill, stroke, strokeWidth, evenOdd } = style;
      if (d !== '' && (fill !== null || stroke !== null)) paths.push({ d, fill, stroke, strokeWidth, evenOdd });
    } else if (element !== 'g') {
      throw new LogoError(`The SVG uses <${element}>. Turn it into plain shapes, or upload a PNG.`);
    }
    stack.push(style);
  });
  parser.on('closetag', (tag) => {
    if (QUIET.has(tag.local)) quiet--;
    stack.pop();
  });
  parser.write(svg).close();
  const found = box as [number, number, number, number] | null;
  if (!found || paths.length === 0) throw new LogoError('The SVG is empty.');
  if (!(found[2] > 0 && found[3] > 0)) throw new LogoError('The SVG has no size.');
  return { kind: 'vector', width: found[2], height: found[3], paths };
}
