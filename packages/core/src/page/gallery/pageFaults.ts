import type { Op, ScenePage } from '../scene.ts';

type Text = Extract<Op, { k: 'text' }>;

interface Box {
  left: number;
  right: number;
  top: number;
  bottom: number;
}

/** Parts of an em above and beneath the baseline that digits and small letters take. */
const ABOVE = 0.66;
const BENEATH = 0.04;
/** Points by which ink may meet before an eye sees it. */
const TOUCH = 0.6;

const boxOf = ({ x, y, w, size }: Text): Box => ({
  left: x,
  right: x + w,
  top: y - ABOVE * size,
  bottom: y + BENEATH * size,
});

const meet = (a: Box, b: Box): boolean =>
  Math.min(a.right, b.right) - Math.max(a.left, b.left) > TOUCH &&
  Math.min(a.bottom, b.bottom) - Math.max(a.top, b.top) > TOUCH;

/** A figure that was shortened says another figure: digits, signs and units right before the ellipsis. */
const CUT_FIGURE = /(^|[\s(+−-])[\p{Sc}\u00a0]*[\d.,'’\u00a0\u202f]*\d[^\p{L}\s]{0,3}…$/u;

/** What is wrong with a page as it is laid out: texts over each other, beside the paper, or figures cut short. */
export function pageFaults(page: ScenePage): string[] {
  const texts = page.ops.flatMap((op) => (op.k === 'text' && op.text.trim() !== '' ? [op] : []));
  const faults: string[] = [];
  texts.forEach((text, i) => {
    const box = boxOf(text);
    if (box.left < 0 || box.right > page.width + TOUCH || box.top < 0 || box.bottom > page.height)
      faults.push(`off the paper: “${text.text}”`);
    if (CUT_FIGURE.test(text.text)) faults.push(`a figure cut short: “${text.text}”`);
    for (const other of texts.slice(i + 1)) {
      if (meet(box, boxOf(other))) faults.push(`over each other: “${text.text}” and “${other.text}”`);
    }
  });
  return faults;
}
