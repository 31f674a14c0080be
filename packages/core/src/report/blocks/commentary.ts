import { z } from 'zod';
import { TEXT } from '../../bounds/index.ts';
import type { Laid, Pen, TextStyle } from './block.ts';
import { defineBlock } from './defineBlock.ts';
import type { Field } from './fields.ts';

const fields = {
  /** `period`: written anew for each period and kept by its dates (periodCommentary.ts); `standing`: a part of the report. */
  span: { schema: z.enum(['standing', 'period']).default('standing'), shape: null },
  /**
   * Of a standing one, empty otherwise. Paragraphs are parted by empty lines; a line that begins with "- " is a point of
   * a list.
   */
  text: {
    schema: z.string().max(TEXT.commentary, `Keep a commentary to ${TEXT.commentary.toLocaleString('en')} characters.`),
    shape: { kind: 'commentary', label: 'Commentary', most: TEXT.commentary },
  },
} satisfies Record<string, Field>;

const LEADING = 15;
const GAP = 5;
const INDENT = 12;
/** Of ending a page within a paragraph. */
const WITHIN = 10;

interface Line {
  text: string;
  x: number;
  bullet: boolean;
  /** Begins a paragraph or a point. */
  first: boolean;
}

function layLines(lines: Line[], style: TextStyle): Laid {
  const tops: number[] = [];
  let y = 0;
  lines.forEach((line, i) => {
    if (line.first && i > 0) y += GAP;
    tops.push(y);
    y += LEADING;
  });
  const paragraphs: number[] = lines.map((l, i) => (l.first || i === 0 ? i : -1)).filter((i) => i >= 0);
  return {
    height: y,
    draw(pen: Pen, x: number, top: number) {
      paragraphs.forEach((from, p) => {
        pen.tagged('P', null, () => {
          for (let i = from; i < (paragraphs[p + 1] ?? lines.length); i++) {
            const line = lines[i]!;
            const baseline = top + tops[i]! + 11;
            if (line.bullet) pen.text(x, baseline, '• ', style);
            // A line ends with the space that parts its words from the next line's when the text is copied.
            pen.text(x + line.x, baseline, `${line.text} `, style);
          }
        });
      });
    },
    pieces: {
      heights: tops.map((top, i) => (tops[i + 1] ?? y) - top),
      // Never one line alone on either page; between paragraphs rather than within one.
      penalties: lines.map((_, i) => {
        if (i === 0 || i >= lines.length - 2) return Number.POSITIVE_INFINITY;
        return lines[i + 1]!.first ? 0 : WITHIN;
      }),
      again: 0,
      cut: (from, to) => layLines(lines.slice(from, to), style),
    },
  };
}

/** What a person has to say about the figures. One for a period without words for it takes no room. */
export const commentary = defineBlock({
  kind: 'commentary',
  fields,
  make: () => ({ span: 'period' as const, text: '' }),
  isWritten: (block) => block.span === 'period',
  // A column of a few words.
  least: () => 110,
  lay(block, context) {
    const style: TextStyle = { face: 'serif', size: 10.5, fill: context.palette.ink };
    const measure = Math.min(context.width, 460);
    const lines: Line[] = [];
    const said = block.span === 'period' ? (context.commentary[block.id] ?? '') : block.text;
    for (const paragraph of said.split(/\n\s*\n|\n(?=- )/)) {
      const text = paragraph.replace(/\s+/g, ' ').trim();
      if (text === '') continue;
      const bullet = text.startsWith('- ');
      const x = bullet ? INDENT : 0;
      context.wrap(bullet ? text.slice(2) : text, style, measure - x).forEach((line, i) => {
        lines.push({ text: line, x, bullet: bullet && i === 0, first: i === 0 });
      });
    }
    return layLines(lines, style);
  },
});
