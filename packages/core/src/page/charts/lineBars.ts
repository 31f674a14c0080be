import type { Pen } from '../../report/index.ts';

import type { LineFrame, LinePlace } from './lineFrame.ts';

interface Box {
  x: number;
  y: number;
  w: number;
  h: number;
}

const BAR_WIDTH = 26;
const LEAST_BAR = 7;

/** One day or two, or what is to be columns: what was beside what is. */
export function drawBars(pen: Pen, { chart, palette, points }: LineFrame, { x0, x1, x, y, base }: LinePlace): void {
  const each = (x1 - x0) / points;
  // Many columns leave no room for others beside them: what was is a line across each.
  const isMany = each * 0.4 < LEAST_BAR;
  const bar = Math.min(BAR_WIDTH, each * (chart.compared && !isMany ? 0.4 : 0.7));
  const put = (values: readonly (number | null)[], left: number, draw: (at: Box) => void) =>
    values.forEach((value, i) => {
      if (value === null) return;
      draw({ x: x(i) + left, y: Math.min(base, y(value)), w: bar, h: Math.abs(y(value) - base) });
    });
  // Hollow, and so told apart where there are no colours.
  const hollow = (b: Box) => {
    const [l, t, r, u] = [b.x + 0.5, b.y + 0.5, b.x + b.w - 0.5, b.y + b.h];
    pen.path(`M${l} ${u}L${l} ${t}L${r} ${t}L${r} ${u}`, { stroke: palette.compared, width: 1 });
  };
  if (chart.compared && !isMany) put(chart.compared.values, -bar - 1, hollow);
  put(chart.current.values, chart.compared && !isMany ? 1 : -bar / 2, (b) =>
    pen.rect(b.x, b.y, b.w, b.h, palette.main),
  );
  if (chart.compared && isMany)
    chart.compared.values.forEach((value, i) => {
      if (!value || i >= points) return;
      pen.line(x(i) - bar / 2 - 1, y(value), x(i) + bar / 2 + 1, y(value), palette.ink, 1);
    });
  if (chart.level) pen.line(x0, y(chart.level.value), x1, y(chart.level.value), palette.second, 1, [1, 2]);
}
