import type { Laid, LayoutContext, TextStyle } from './block.ts';
import { putLines } from './putLines.ts';

const SIZE = 8.5;
const LEADING = 11;
const BENEATH = 4;

/** What a block has of its own (dates, filter), as lines of its width; none where it is as the report. */
export function setSubtitle(context: LayoutContext) {
  const style: TextStyle = { face: 'sans', size: SIZE, fill: context.palette.muted };
  const lines = context.subtitle === '' ? [] : context.wrap(context.subtitle, style, context.width);
  return {
    height: lines.length * LEADING,
    draw(pen: Parameters<Laid['draw']>[0], x: number, y: number): void {
      if (lines.length === 0) return;
      pen.tagged('P', null, () => putLines(pen, lines, (i) => [x, y + SIZE + i * LEADING], style));
    },
  };
}

/** A block without a title of its own, beneath what it has of its own. */
export function withSubtitle(context: LayoutContext, laid: Laid): Laid {
  const said = setSubtitle(context);
  return said.height === 0 ? laid : underHead({ ...said, height: said.height + BENEATH }, laid);
}

/** What is laid out, beneath something that stands above its first piece alone. */
export function underHead(said: Pick<Laid, 'height' | 'draw'>, laid: Laid): Laid {
  const { height } = said;
  const beneath = (own: Laid): Laid => ({
    ...own,
    height: own.height + height,
    draw(pen, x, y) {
      said.draw(pen, x, y);
      own.draw(pen, x, y + height);
    },
    ...(own.pieces && {
      pieces: {
        ...own.pieces,
        heights: own.pieces.heights.map((h, i) => (i === 0 ? h + height : h)),
        cut: (from, to) => (from === 0 ? beneath(own.pieces!.cut(from, to)) : own.pieces!.cut(from, to)),
      },
    }),
    ...(own.elastic && { elastic: { ...own.elastic, at: (whole) => beneath(own.elastic!.at(whole - height)) } }),
  });
  return beneath(laid);
}
