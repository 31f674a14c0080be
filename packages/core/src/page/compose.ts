import { lengthOf } from '../calendar/index.ts';
import { type Answers, type FeedLack, isKnown, rangeKey } from '../figures/index.ts';
import { type Block, type LayoutContext, scopeOf, settlePaper } from '../report/index.ts';
import { feedLackWords, fill } from '../words/index.ts';
import { layoutLineChart } from './charts/lineChart.ts';
import { layoutSparkline } from './charts/sparkline.ts';
import type { ComposeInput, PageInput } from './composeInput.ts';
import { paragraphDirection } from './direction.ts';
import { setPages } from './flow.ts';
import { oddMarker } from './oddNotes.ts';
import { createPages } from './pageWriter.ts';
import { paletteOf } from './palette.ts';
import { rulerFor, widthOf } from './ruler.ts';
import type { Scene } from './scene.ts';
import { fitText, wrapText } from './textFit.ts';

/** Raised whenever the same input would be drawn differently; kept with every edition. */
export const COMPOSE_VERSION = 6;

/** What the page has to say about its dates: unequal lengths, and compared days before measuring began. */
function dateNotes({ period, compared, answers, format }: PageInput): string[] {
  if (!compared) return [];
  const notes: string[] = [];
  const [days, others] = [lengthOf(period), lengthOf(compared)];
  if (days !== others) notes.push(fill(format.words.noteLengths, { days, compared: others }));
  // Of figures that began later each says so by itself; the note stands where nothing at all is compared.
  const before = Object.entries(answers).flatMap(([key, a]) =>
    a.op === 'total' && key.includes(rangeKey(compared)) ? [a.value] : [],
  );
  if (before.length > 0 && before.every((v) => !isKnown(v) && v.na === 'before-start'))
    notes.push(fill(format.words.noteBeforeStart, { range: format.dates(compared) }));
  return notes;
}

/** The feeds that any total is without in some of its days. */
const feedLacksIn = (answers: Answers): FeedLack[] =>
  Object.values(answers).flatMap((a) => (a.op === 'total' && isKnown(a.value) ? (a.value.feeds ?? []) : []));

/**
 * Lays a report out as pages of primitives: a pure function of its input, byte for byte. Where pages end is chosen for
 * each page of the design as a whole; what is divided is divided where it allows it, and nothing is cut.
 */
export function compose(given: ComposeInput): Scene {
  const { format, document } = given;
  const ruler = rulerFor(given.ruler, format.locale, format.words.direction);
  const input: PageInput = { ...given, ruler };
  const palette = paletteOf(input.brand);
  const sheets = createPages(input, palette);
  const contextOf = (block: Block, width: number, note: (text: string) => void): LayoutContext => {
    const scope = scopeOf(block, input);
    return {
      ...scope,
      width,
      answers: input.answers,
      book: input.book,
      dayNotes: input.dayNotes.filter((n) => n.from <= scope.period.to && n.to >= scope.period.from),
      commentary: input.commentary,
      labelOf: (key) => input.book.labelOf(key, format.words.metrics),
      format,
      palette,
      measure: (text, style) => widthOf(ruler, style.face, style.size, text),
      wrap: (text, style, w) => wrapText(ruler, text, style, w),
      fit: (text, style, w, after = '') =>
        fitText(ruler, text, style, w - widthOf(ruler, style.face, style.size, after)) + after,
      lineChart: (chart) => layoutLineChart(chart, palette, format, ruler),
      sparkline: (values, w, h) => layoutSparkline(values, w, h, palette),
      oddMark: (metric) => oddMarker(input, note)(metric, scope),
      directionOf: (text) => paragraphDirection(text, ruler.direction),
      note,
    };
  };
  const said = [...new Set([...dateNotes(input), ...feedLacksIn(input.answers).map((l) => feedLackWords(l, format))])];
  document.pages.forEach((page, i) => {
    const writer = sheets.on(settlePaper(page.paper, document.paper, input.paper));
    const last = i === document.pages.length - 1 ? said : [];
    const flowing = { contextOf, heightOfNote: writer.heightOfNote, width: writer.sheet.inner };
    for (const set of setPages(page, writer.rooms(i === 0), last, flowing)) writer.write(set, page.title);
  });
  sheets.drawFeet();
  return {
    version: 1,
    lang: format.locale,
    title: `${input.title} · ${format.range(input.period)}`,
    author: input.agencyName,
    pages: sheets.pages,
  };
}
