import { lengthOf } from '../calendar/index.ts';
import { type Answers, type FeedLack, isKnown, rangeKey } from '../figures/index.ts';
import { settlePaper, standing } from '../report/index.ts';
import { feedLackWords, fill } from '../words/index.ts';
import { blocksIn } from './blockContext.ts';
import type { ComposeInput, PageInput } from './composeInput.ts';
import { setPages } from './flow.ts';
import { createPages } from './pageWriter.ts';
import { paletteOf } from './palette.ts';
import { rulerFor } from './ruler.ts';
import type { Scene } from './scene.ts';

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
  const blocks = blocksIn(input, palette);
  const said = [...new Set([...dateNotes(input), ...feedLacksIn(input.answers).map((l) => feedLackWords(l, format))])];
  const { pages } = standing(document);
  pages.forEach((page, i) => {
    const writer = sheets.on(settlePaper(page.paper, document.paper, input.paper));
    const last = i === pages.length - 1 ? said : [];
    const flowing = { ...blocks, heightOfNote: writer.heightOfNote, width: writer.sheet.inner };
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
