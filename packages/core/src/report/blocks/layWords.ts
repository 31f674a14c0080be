import type { Direction } from '../../words/index.ts';
import { fillFields } from '../mergeFields.ts';
import type { Laid, LayoutContext, Pen, TextStyle } from './block.ts';
import { plainText, type StyledRun, setSpans, spansOf } from './spans.ts';

const LEADING = 15;
const GAP = 5;
const INDENT = 12;
/** Of ending a page within a paragraph. */
const WITHIN = 10;

interface Line {
  runs: readonly StyledRun[];
  /** From the side on which its paragraph begins. */
  indent: number;
  style: TextStyle;
  bullet: boolean;
  /** Begins a paragraph or a point; of a point, whether it is the first piece of it that is drawn. */
  first: boolean;
}

/** Lines of one paragraph or point: places among all lines, the end not included. */
interface Part {
  from: number;
  to: number;
  isPoint: boolean;
}

function layLines(lines: Line[], width: number, page: Direction): Laid {
  const tops: number[] = [];
  let y = 0;
  lines.forEach((line, i) => {
    if (line.first && i > 0) y += GAP;
    tops.push(y);
    y += LEADING;
  });
  const starts = lines.map((l, i) => (l.first || i === 0 ? i : -1)).filter((i) => i >= 0);
  const parts = starts.map((from, p): Part => {
    const to = starts[p + 1] ?? lines.length;
    return { from, to, isPoint: lines[from]!.indent > 0 };
  });
  return {
    height: y,
    draw(pen: Pen, x: number, top: number) {
      const put = (i: number) => {
        const line = lines[i]!;
        // A paragraph of the other direction begins on the other side.
        const [at, align] =
          line.style.direction === page
            ? [x + line.indent, 'left' as const]
            : [x + width - line.indent, 'right' as const];
        // A line ends with the space that parts its words from the next line's when the text is copied.
        const baseline = top + tops[i]! + 11;
        line.runs.forEach((run, r) => {
          const text = r === line.runs.length - 1 ? `${run.text} ` : run.text;
          const draw = () => pen.text(at + run.x, baseline, text, run.style, align);
          if (run.link === undefined) draw();
          else pen.tagged('Link', null, draw, { link: run.link, about: run.text });
        });
      };
      const putAll = ({ from, to }: Part) => {
        for (let i = from; i < to; i++) put(i);
      };
      const putPoint = (part: Part) => {
        const line = lines[part.from]!;
        if (line.bullet) {
          const [at, align] = line.style.direction === page ? [x, 'left' as const] : [x + width, 'right' as const];
          pen.tagged('Lbl', null, () => pen.text(at, top + tops[part.from]! + 11, '• ', line.style, align));
        }
        pen.tagged('LBody', null, () => putAll(part));
      };
      for (let p = 0; p < parts.length; p++) {
        const part = parts[p]!;
        if (!part.isPoint) {
          pen.tagged('P', null, () => putAll(part));
          continue;
        }
        let end = p + 1;
        while (parts[end]?.isPoint) end++;
        pen.tagged('L', null, () => {
          for (const point of parts.slice(p, end)) pen.tagged('LI', null, () => putPoint(point));
        });
        p = end - 1;
      }
    },
    pieces: {
      heights: tops.map((top, i) => (tops[i + 1] ?? y) - top),
      // Never one line alone on either page; between paragraphs rather than within one.
      penalties: lines.map((_, i) => {
        if (i === 0 || i >= lines.length - 2) return Number.POSITIVE_INFINITY;
        return lines[i + 1]!.first ? 0 : WITHIN;
      }),
      again: 0,
      cut: (from, to) => layLines(lines.slice(from, to), width, page),
    },
  };
}

/** Points of a line that an eye follows to its end. */
const MEASURE = 460;

/**
 * Words that a person wrote: paragraphs are parted by empty lines, and a line that begins with "- " is a point of a list;
 * bold, links (spans.ts) and merge fields stand within them. Nothing takes no room.
 */
export function layWords(context: LayoutContext, template: string): Laid {
  const said = fillFields(template, context.fieldValue, () => context.format.words.reasons['no-data']);
  const measure = Math.min(context.width, MEASURE);
  const lines: Line[] = [];
  for (const paragraph of said.split(/\n\s*\n|\n(?=- )/)) {
    const text = paragraph.replace(/[ \t\r\n]+/g, ' ').trim();
    if (text === '') continue;
    const isPoint = text.startsWith('- ');
    const words = isPoint ? text.slice(2) : text;
    const style: TextStyle = {
      face: 'serif',
      size: 10.5,
      fill: context.palette.ink,
      direction: context.directionOf(plainText(words)),
      running: true,
    };
    const indent = isPoint ? INDENT : 0;
    setSpans(context, spansOf(words), style, measure - indent).forEach((runs, i) => {
      lines.push({ runs, indent, style, bullet: isPoint && i === 0, first: i === 0 });
    });
  }
  return layLines(lines, measure, context.format.words.direction);
}
