import { fill, fullStop } from '../../words/index.ts';
import type { Laid, LayoutContext, TextStyle } from './block.ts';
import { setTitle } from './blockTitle.ts';
import { fewLines } from './fewLines.ts';
import { measureShares } from './measureShares.ts';
import { putLines } from './putLines.ts';
import type { ShareTable } from './shareTable.ts';

const SIZE = 108;
const THICK = 24;
const ROW = 14;
const LEADING = 9.8;
const GAP = 18;
const LABEL_LINES = 2;
/** A part is numbered on the ring where its number has room: a share of the whole. */
const NUMBERED = 0.05;
/** Radians between two parts. */
const APART = 0.02;

/** A stretch of the ring from one angle to another (clockwise from the top), in curves that every painter knows. */
function arc(cx: number, cy: number, outer: number, inner: number, from: number, to: number): string {
  const at = (r: number, a: number) => [cx + r * Math.sin(a), cy - r * Math.cos(a)] as const;
  const steps = Math.max(1, Math.ceil((to - from) / (Math.PI / 4)));
  const sweep = (r: number, a: number, b: number): string => {
    const step = (b - a) / steps;
    const k = (4 / 3) * Math.tan(step / 4);
    let d = '';
    for (let i = 0; i < steps; i++) {
      const [s, e] = [a + i * step, a + (i + 1) * step];
      const [x1, y1] = at(r, s);
      const [x2, y2] = at(r, e);
      const c1 = [x1 + k * r * Math.cos(s), y1 + k * r * Math.sin(s)];
      const c2 = [x2 - k * r * Math.cos(e), y2 - k * r * Math.sin(e)];
      d += `C${c1.join(' ')} ${c2.join(' ')} ${x2} ${y2}`;
    }
    return d;
  };
  const [sx, sy] = at(outer, from);
  const [ix, iy] = at(inner, to);
  return `M${sx} ${sy}${sweep(outer, from, to)}L${ix} ${iy}${sweep(inner, to, from)}Z`;
}

/** Points that everything but the labels takes. */
function fixedOf(context: LayoutContext, m: ReturnType<typeof measureShares>): { numbers: number; all: number } {
  const numbers = context.measure(String(m.rows.length), m.bold) + 6;
  return { numbers, all: SIZE + GAP + numbers + 8 + m.shares + (m.changes > 0 ? m.changes + 10 : 0) };
}

/** The narrowest width in which ring and list stand beside each other. */
export function leastOfRing(context: LayoutContext, told: ShareTable): number {
  const m = measureShares(context, told);
  return fixedOf(context, m).all + m.label.least;
}

/** The shares as a ring with a numbered list beside it, in one order: what is what hangs on no colour. */
export function layShareRing(context: LayoutContext, told: ShareTable): Laid {
  const { palette } = context;
  const title = setTitle(context, told.title, told.mark);
  const m = measureShares(context, told);
  const { style, bold } = m;
  const number: TextStyle = { face: 'sansBold', size: 7.5, fill: '#ffffff' };
  const rows = m.rows.map((row, i) => ({ ...row, number: String(i + 1) }));
  const { numbers, all } = fixedOf(context, m);
  const changes = m.changes > 0 ? m.changes + 10 : 0;
  // Figures stand near the names that they are of.
  const label = Math.max(Math.min(20, m.label.least), Math.min(m.label.natural, context.width - all));
  const end = SIZE + GAP + numbers + label + 8 + m.shares + changes;
  const named = rows.map((r) => fewLines(context, r.line.label, '', style, label, LABEL_LINES));
  const heights = named.map((l) => ROW + (l.length - 1) * LEADING);
  const listHeight = heights.reduce((sum, h) => sum + h, 0);
  const parts = rows.map((r) => `${r.line.label} ${r.share}`).join(', ');
  const alt = fullStop(fill(context.format.words.labelled, { label: told.title, text: parts }));
  return {
    height: title.height + Math.max(SIZE, listHeight),
    name: told.title,
    draw(pen, x, y) {
      title.draw(pen, x, y);
      const [cx, cy] = [x + SIZE / 2, y + title.height + SIZE / 2];
      pen.tagged('Figure', alt, () => {
        let angle = 0;
        for (const { line, number: n } of rows) {
          const to = angle + line.share * 2 * Math.PI;
          const gap = Math.min(APART, (to - angle) / 4);
          const fill = line.isOther ? palette.compared : palette.main;
          // One part alone is a ring, which two halves make.
          const cuts = line.share > 0.999 ? [0, Math.PI, 2 * Math.PI] : [angle + gap, to - gap];
          for (let i = 0; i + 1 < cuts.length; i++)
            pen.path(arc(cx, cy, SIZE / 2, SIZE / 2 - THICK, cuts[i]!, cuts[i + 1]!), { fill });
          if (line.share >= NUMBERED) {
            const middle = (angle + to) / 2;
            const r = (SIZE - THICK) / 2;
            // Light on the brand's own, which is dark enough for it; dark on grey.
            const on: TextStyle = line.isOther ? { ...number, fill: palette.ink } : number;
            pen.text(cx + r * Math.sin(middle), cy - r * Math.cos(middle) + 2.7, n, on, 'center');
          }
          angle = to;
        }
      });
      let at = y + title.height + Math.max(0, (SIZE - listHeight) / 2);
      const left = x + SIZE + GAP;
      pen.tagged('Table', null, () => {
        rows.forEach((row, i) => {
          const lines = named[i]!;
          const start = at;
          const middle = start + 10 + ((lines.length - 1) * LEADING) / 2;
          pen.tagged('TR', null, () => {
            const putName = () => {
              pen.text(left, start + 10, `${row.number} `, { ...bold, fill: palette.main });
              putLines(pen, lines, (l) => [left + numbers, start + 10 + l * LEADING], style);
            };
            pen.tagged('TH', null, putName, { scope: 'Row' });
            pen.tagged('TD', null, () => pen.text(x + end - changes, middle, row.share, bold, 'right'));
            if (told.hasChange)
              pen.tagged('TD', null, () =>
                pen.text(x + end, middle, row.change, { ...style, fill: palette.muted }, 'right'),
              );
          });
          at += heights[i]!;
        });
      });
    },
  };
}
