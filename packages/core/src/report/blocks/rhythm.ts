import { isKnown, keyOf, type Question, type Rhythm, type Value, valueOfAnswer } from '../../figures/index.ts';
import { fill, fullStop } from '../../words/index.ts';
import type { Laid, LayoutContext, Pen, Scope, TextStyle } from './block.ts';
import { setTitle } from './blockTitle.ts';
import { type BlockOf, defineBlock } from './defineBlock.ts';
import { metricField, titleField } from './fields.ts';
import { layReason } from './layReason.ts';
import { notePartly } from './notePartly.ts';
import { PARTLY } from './partly.ts';

const fields = { metric: metricField(), title: titleField };

type RhythmBlock = BlockOf<'rhythm', typeof fields>;

const HOURS = 24;
const ROW = { least: 12, most: 20 };
const AXIS = 14;
const GAP = 8;
/** The largest square leaves this part of its place free. */
const FULL = 0.88;
/** Hours that the axis names. */
const EVERY = 3;

function asks({ metric }: RhythmBlock, { period, weekStart, filter }: Scope) {
  return {
    cells: { op: 'rhythm', metric, range: period, filter, weekStart } satisfies Question,
    whole: { op: 'total', metric, range: period, filter } satisfies Question,
  };
}

/** A cell of the week: weekday from 0 for the week's first day, and hour of the day. */
interface Cell {
  day: number;
  hour: number;
  value: number;
}

const cellsOf = ({ cells }: Rhythm): Cell[] =>
  cells.flatMap((row, day) => row.flatMap((value, hour) => (value === null ? [] : [{ day, hour, value }])));

interface Told {
  title: string;
  mark: string;
  cells: Cell[];
  /** The busiest hour of the week. */
  busiest: Cell;
  say: (value: number) => string;
}

type Lacking = Extract<Value, { na: unknown }>['na'];

function toldOf(block: RhythmBlock, context: LayoutContext): Told | { title: string; na: Lacking } {
  const { format, answers } = context;
  const label = context.labelOf(block.metric);
  const title = block.title.trim() || fill(format.words.rhythmTitle, { metric: label });
  const asked = asks(block, context);
  const answer = answers[keyOf(asked.cells)];
  const found = answer?.op === 'rhythm' ? answer.rhythm : ({ na: 'no-data' } as const);
  if ('na' in found) return { title, na: found.na };
  const cells = cellsOf(found);
  const [busiest] = [...cells].sort((a, b) => b.value - a.value || a.day - b.day || a.hour - b.hour);
  if (!busiest || busiest.value <= 0) return { title, na: 'no-data' };
  const whole = valueOfAnswer(answers[keyOf(asked.whole)]);
  notePartly(context, block.metric, whole);
  const isPartly = whole !== null && isKnown(whole) && !!whole.partial;
  const { unit } = context.book.of(block.metric);
  // An average hour of a count has a decimal where it is small.
  const say = (value: number) =>
    unit === 'count'
      ? value < 10
        ? format.decimal(value)
        : format.figure(Math.round(value), unit)
      : format.figure(value, unit);
  const marked = (value: number) => (isPartly ? `${say(value)} ${PARTLY}` : say(value));
  return { title, mark: context.dayMark(block.metric), cells, busiest, say: marked };
}

const small = ({ palette }: LayoutContext): TextStyle => ({ face: 'sans', size: 7.5, fill: palette.muted });

/** Names of the weekdays, and how wide the widest is. */
function weekdays(context: LayoutContext): { names: string[]; width: number } {
  const names = Array.from({ length: 7 }, (_, i) => context.format.weekday(((context.weekStart - 1 + i) % 7) + 1));
  return { names, width: Math.max(...names.map((n) => context.measure(n, small(context)))) };
}

function layWeek(context: LayoutContext, told: Told): Laid {
  const { palette, format } = context;
  const style = small(context);
  const { names, width } = weekdays(context);
  const left = width + GAP;
  const column = (context.width - left) / HOURS;
  const row = Math.max(ROW.least, Math.min(ROW.most, column));
  const { busiest, say } = told;
  const hour = `${names[busiest.day]!} ${format.hour(busiest.hour)}`;
  const peak = fill(format.words.busiest, { hour, value: say(busiest.value) });
  const title = setTitle(context, told.title, told.mark, peak);
  const largest = Math.min(column, row) * FULL;
  const drawCells = (pen: Pen, x: number, y: number) => {
    names.forEach((name, day) => {
      pen.text(x, y + day * row + row / 2 + 2.7, name, style);
      pen.line(x + left, y + (day + 0.5) * row, x + context.width, y + (day + 0.5) * row, palette.rule, 0.4);
    });
    for (const { day, hour, value } of told.cells) {
      // Its area is the value.
      const side = largest * Math.sqrt(Math.max(0, value) / busiest.value);
      if (side < 0.3) continue;
      const [cx, cy] = [x + left + (hour + 0.5) * column, y + (day + 0.5) * row];
      pen.rect(cx - side / 2, cy - side / 2, side, side, palette.main);
    }
    const named = Array.from({ length: HOURS / EVERY }, (_, i) => i * EVERY);
    const widest = Math.max(...named.map((h) => context.measure(format.hour(h), style)));
    const step = Math.ceil((widest + 4) / (column * EVERY));
    for (const hour of named.filter((_, i) => i % step === 0))
      pen.text(x + left + (hour + 0.5) * column, y + 7 * row + 10, format.hour(hour), style, 'center');
  };
  const alt = fullStop(fill(format.words.labelled, { label: told.title, text: peak }));
  return {
    height: title.height + 7 * row + AXIS,
    name: told.title,
    draw(pen, x, y) {
      title.draw(pen, x, y);
      pen.tagged('Figure', alt, () => drawCells(pen, x, y + title.height));
    },
  };
}

/** What an average hour of each weekday brings (SEMANTICS §12): squares whose areas are the values. */
export const rhythm = defineBlock({
  kind: 'rhythm',
  fields,
  mail: { as: 'chart' },
  make: ({ metric }) => ({ metric, title: '' }),
  about: 'metric',
  questions: (block, scope) => Object.values(asks(block, scope)),
  // Squares that can be told from each other.
  least: (_, context) => weekdays(context).width + GAP + HOURS * 4,
  lay(block, context) {
    const told = toldOf(block, context);
    return 'na' in told
      ? layReason(context, told.title, context.format.words.reasons[told.na])
      : layWeek(context, told);
  },
});
