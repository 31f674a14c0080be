import type { Pen } from '../report/index.ts';
import { type Ruler, widthOf } from './ruler.ts';
import type { Op } from './scene.ts';

/** Rounds to 0.01 pt, the grid of every scene. */
export const grid = (n: number): number => Math.round(n * 100) / 100;

const gridPath = (d: string): string => d.replace(/-?\d+\.\d{3,}/g, (n) => String(grid(Number(n))));

/** A pen that writes primitives onto `ops`. */
export function createPen(ops: Op[], ruler: Ruler): Pen {
  return {
    text(x, baseline, text, style, align = 'left') {
      if (text === '') return;
      const width = align === 'left' ? 0 : widthOf(ruler, style.face, style.size, text);
      let left = align === 'right' ? x - width : align === 'center' ? x - width / 2 : x;
      for (const run of ruler.runs(style.face, text)) {
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
        });
        left += w;
      }
    },
    rect(x, y, w, h, fill) {
      ops.push({ k: 'rect', x: grid(x), y: grid(y), w: grid(w), h: grid(h), fill });
    },
    line(x1, y1, x2, y2, stroke, width, dash) {
      const d = `M${grid(x1)} ${grid(y1)}L${grid(x2)} ${grid(y2)}`;
      ops.push({ k: 'path', d, stroke, width, ...(dash && { dash }) });
    },
    path(d, paint) {
      // Painters know absolute moves, lines and curves alone.
      if (/[^MLCQZ\d\s.,e+-]/.test(d)) throw new RangeError(`a path has to be absolute: ${d.slice(0, 40)}`);
      ops.push({ k: 'path', d: gridPath(d), ...paint });
    },
    tagged(tag, alt, draw) {
      ops.push({ k: 'open', tag, ...(alt !== null && { alt }) });
      draw();
      ops.push({ k: 'close' });
    },
  };
}
