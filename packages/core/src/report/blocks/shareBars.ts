import { shareColumns } from '../../typeset/index.ts';
import type { Laid, LayoutContext, Pen } from './block.ts';
import { setTitle } from './blockTitle.ts';
import { fewLines } from './fewLines.ts';
import { measureShares } from './measureShares.ts';
import { putLines } from './putLines.ts';
import type { ShareTable } from './shareTable.ts';

const ROW = 16;
const LEADING = 9.8;
const GAP = 10;
const LABEL_LINES = 2;
/** A bar that has less than this to grow in says nothing, and is left out. */
const BAR = 28;

/** Points that the numbers take beside label and bar. */
const fixedOf = ({ shares, changes }: ReturnType<typeof measureShares>): number =>
  shares + GAP + (changes > 0 ? changes + GAP : 0);

/** The narrowest width in which the shares can be read as bars. */
export function leastOfBars(context: LayoutContext, told: ShareTable): number {
  const m = measureShares(context, told);
  return m.label.least + GAP + BAR + fixedOf(m);
}

/** The shares as bars: the longest is the largest part. */
export function layShareBars(context: LayoutContext, told: ShareTable): Laid {
  const { palette } = context;
  const title = setTitle(context, told.title, told.mark);
  const m = measureShares(context, told);
  const { style, bold, rows, changes } = m;
  const room = context.width - fixedOf(m);
  const [label, bar] = shareColumns([m.label, { least: BAR, natural: BAR }], room - GAP) ?? [
    Math.max(m.label.least, room),
    0,
  ];
  const barRoom = bar! === 0 ? 0 : room - GAP - label!;
  const top = Math.max(...told.lines.map((l) => l.share));
  const named = rows.map((r) => fewLines(context, r.line.label, '', style, label!, LABEL_LINES));
  const heights = named.map((l) => ROW + (l.length - 1) * LEADING);
  const drawRows = (pen: Pen, from: number, to: number, x: number, y: number) => {
    let at = y;
    pen.tagged('Table', null, () => {
      for (let i = from; i < to; i++) {
        const { line, share, change } = rows[i]!;
        const lines = named[i]!;
        const baseline = at + 11 + ((lines.length - 1) * LEADING) / 2;
        const start = at;
        const fill = line.isOther ? palette.compared : palette.mainTint;
        if (barRoom > 0) pen.rect(x + label! + GAP, baseline - 7.5, (line.share / top) * barRoom, 9, fill);
        pen.tagged('TR', null, () => {
          pen.tagged('TH', null, () => putLines(pen, lines, (l) => [x, start + 11 + l * LEADING], style), {
            scope: 'Row',
          });
          const end = x + context.width - (told.hasChange ? changes + GAP : 0);
          pen.tagged('TD', null, () => pen.text(end, baseline, share, bold, 'right'));
          if (told.hasChange)
            pen.tagged('TD', null, () =>
              pen.text(x + context.width, baseline, change, { ...style, fill: palette.muted }, 'right'),
            );
        });
        at += heights[i]!;
      }
    });
  };
  const laid = (from: number, to: number): Laid => ({
    height: title.height + heights.slice(from, to).reduce((sum, h) => sum + h, 0),
    name: told.title,
    draw(pen, x, y) {
      title.draw(pen, x, y);
      drawRows(pen, from, to, x, y + title.height);
    },
  });
  return {
    ...laid(0, rows.length),
    pieces: {
      heights: heights.map((h, i) => h + (i === 0 ? title.height : 0)),
      penalties: heights.map((_, i) => (i < 1 || i >= heights.length - 2 ? Number.POSITIVE_INFINITY : 0)),
      again: title.height,
      cut: laid,
    },
  };
}
