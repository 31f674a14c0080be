import type { Laid, LayoutContext, TextStyle } from './block.ts';
import { setTitle } from './blockTitle.ts';
import { putLines } from './putLines.ts';

const LEADING = 12;

/** A block that has nothing to show: its title, and why. */
export function layReason(context: LayoutContext, name: string, reason: string): Laid {
  const title = setTitle(context, name);
  const style: TextStyle = { face: 'sans', size: 9, fill: context.palette.muted };
  const said = context.wrap(reason, style, context.width);
  return {
    height: title.height + said.length * LEADING + 4,
    name,
    draw(pen, x, y) {
      title.draw(pen, x, y);
      pen.tagged('P', null, () => putLines(pen, said, (i) => [x, y + title.height + 10 + i * LEADING], style));
    },
  };
}
