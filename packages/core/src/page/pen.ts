import type { Pen } from '../report/index.ts';
import { grid } from './grid.ts';
import { drawLogo } from './logo.ts';
import { movePath } from './pathPoints.ts';
import type { PageRuler } from './ruler.ts';
import type { Op } from './scene.ts';

const gridPath = (d: string): string =>
  !/\.\d{3}/.test(d) ? d : d.replace(/-?\d+\.\d{3,}/g, (n) => String(grid(Number(n))));

const OPPOSITE = { left: 'right', center: 'center', right: 'left' } as const;

/**
 * A pen that writes primitives onto `ops`. A page that is read from right to left is laid out as one that is read from
 * left to right, and mirrored here: columns, charts and their time run the other way, texts and pictures keep theirs.
 * @param width of the sheet, in points
 */
export function createPen(ops: Op[], ruler: PageRuler, width: number): Pen {
  const mirrored = ruler.direction === 'rtl';
  const across = (x: number) => (mirrored ? width - x : x);
  return {
    text(x, baseline, text, style, align = 'left') {
      if (text === '') return;
      const runs = ruler.runs(style.face, text, style.direction);
      const body = text.trimEnd();
      const whole = runs.reduce((sum, run) => sum + run.advance, 0) * style.size;
      const own = body === text ? whole : ruler.advance(style.face, body) * style.size;
      const at = mirrored ? OPPOSITE[align] : align;
      const from = across(x) - (at === 'left' ? 0 : at === 'right' ? own : own / 2);
      // A space that parts a line from the next hangs out of the line where it ends.
      const hangsLeft = whole > own && runs[0]!.rtl === true && /\s$/.test(runs[0]!.text);
      let left = hangsLeft ? from - (whole - own) : from;
      for (const run of runs) {
        const w = run.advance * style.size;
        ops.push({
          k: 'text',
          x: grid(left),
          y: grid(baseline),
          w: grid(w),
          face: run.face,
          size: style.size,
          fill: style.fill,
          text: run.text,
          ...(run.rtl && { rtl: true as const }),
          ...(run.lost && { lost: run.lost }),
        });
        left += w;
      }
    },
    rect(x, y, w, h, fill) {
      ops.push({ k: 'rect', x: grid(mirrored ? width - x - w : x), y: grid(y), w: grid(w), h: grid(h), fill });
    },
    line(x1, y1, x2, y2, stroke, thick, dash) {
      const d = `M${grid(across(x1))} ${grid(y1)}L${grid(across(x2))} ${grid(y2)}`;
      ops.push({ k: 'path', d, stroke, width: thick, ...(dash && { dash }) });
    },
    path(d, paint) {
      // Painters know absolute moves, lines and curves alone.
      if (/[^MLCQZ\d\s.,e+-]/.test(d)) throw new RangeError(`a path has to be absolute: ${d.slice(0, 40)}`);
      const moved = mirrored ? movePath(d, (x, y) => [grid(across(x)), grid(y)]) : gridPath(d);
      ops.push({ k: 'path', d: moved, ...paint });
    },
    picture: (picture, box, alt, ground) => drawLogo(ops, picture, box, alt, ground, mirrored ? width : null),
    tagged(tag, alt, draw, more) {
      ops.push({ k: 'open', tag, ...(alt !== null && { alt }), ...more });
      draw();
      ops.push({ k: 'close' });
    },
  };
}
