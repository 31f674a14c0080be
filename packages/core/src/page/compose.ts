import { lengthOf } from '../calendar/index.ts';
import { type Answers, type FeedLack, isKnown } from '../figures/index.ts';
import { type Block, blockKind, type ReportDocument, type ReportPage, settlePaper, standing } from '../report/index.ts';
import { feedLackWords, fill } from '../words/index.ts';
import { blocksIn } from './blockContext.ts';
import type { ComposeInput, PageInput } from './composeInput.ts';
import { CONTENTS_FROM, drawContents } from './contents.ts';
import { facesOf } from './faces.ts';
import { setPages } from './flow.ts';
import { drawNotesPages } from './notesPages.ts';
import { nothingCompared } from './nothingCompared.ts';
import { type PageMemo, sheetsOfPage } from './pageMemo.ts';
import { createPages } from './pageWriter.ts';
import { paletteOf } from './palette.ts';
import { rulerFor } from './ruler.ts';
import type { Scene } from './scene.ts';

/** Raised whenever the same input would be drawn differently; kept with every edition. */
export const COMPOSE_VERSION = 10;

/** What the page has to say about its dates: unequal lengths, and compared days before measuring began. */
function dateNotes({ period, compared, answers, format }: PageInput): string[] {
  if (!compared) return [];
  const notes: string[] = [];
  const [days, others] = [lengthOf(period), lengthOf(compared)];
  if (days !== others)
    notes.push(fill(format.words.noteLengths, { days: format.count(format.words.days, days), compared: others }));
  // Of figures that began later each says so by itself; the note stands where nothing at all is compared.
  if (nothingCompared({ compared, answers }))
    notes.push(fill(format.words.noteBeforeStart, { ...format.period(compared) }));
  return notes;
}

/** The feeds that any total is without in some of its days. */
const feedLacksIn = (answers: Answers): FeedLack[] =>
  Object.values(answers).flatMap((a) => (a.op === 'total' && isKnown(a.value) ? (a.value.feeds ?? []) : []));

/**
 * The pages of the design that get sheets. One of whose blocks none stands, as their conditions have it, gets none, unless
 * there is no other; one that is empty yet keeps its sheet.
 */
function pagesOf(document: ReportDocument, isSilent: (block: Block) => boolean): ReportPage[] {
  const empty = new Set(document.pages.filter((p) => p.rows.length === 0).map((p) => p.id));
  const { pages } = standing(document);
  const left = pages.filter((p) => empty.has(p.id) || !p.rows.every((r) => r.blocks.every(isSilent)));
  return left.length > 0 ? left : pages.slice(0, 1);
}

/**
 * Lays a report out as pages of primitives: a pure function of its input, byte for byte. Where pages end is chosen for
 * each page of the design as a whole; what is divided is divided where it allows it, and nothing is cut.
 */
export function compose(given: ComposeInput, memo?: PageMemo): Scene {
  const { format, document } = given;
  const ruler = rulerFor(given.ruler, format.locale, format.words.direction, facesOf(given.brand.typefaces));
  const input: PageInput = { ...given, ruler };
  const palette = paletteOf(input.brand);
  const sheets = createPages(input, palette);
  const blocks = blocksIn(input, palette);
  const said = [...new Set([...dateNotes(input), ...feedLacksIn(input.answers).map((l) => feedLackWords(l, format))])];
  const pages = pagesOf(document, blocks.isSilent);
  const paperOf = (page: ReportPage) => settlePaper(page.paper, document.paper, input.paper);
  /** Where a table of contents stands: behind a cover, else behind the first page. */
  let contentsAt = 0;
  /** Sheets on which pages of the design begin; of the first, what comes behind its cover. */
  const begins: number[] = [];
  pages.forEach((page, i) => {
    const writer = sheets.on(paperOf(page));
    const last = i === pages.length - 1 ? said : [];
    const from = sheets.count;
    const whole = page.rows.flatMap((r) => r.blocks.filter((b) => blockKind(b).drawSheet));
    begins.push(i === 0 ? whole.length : from);
    const write = () => {
      for (const block of whole) {
        const context = blocks.contextOf(block, writer.sheet.inner, () => undefined);
        writer.writeSheet(block.id, page.title, (pen, size) => blockKind(block).drawSheet!(block, context, pen, size));
      }
      const isEmpty = whole.length > 0 && page.rows.every((r) => r.blocks.every((b) => whole.includes(b)));
      const moreNotes = (count: number) => fill(format.words.moreNotes, { count });
      const flowing = { ...blocks, heightOfNote: writer.heightOfNote, width: writer.sheet.inner, moreNotes };
      if (!isEmpty || last.length > 0)
        for (const set of setPages(page, writer.rooms(sheets.count === 0), last, flowing))
          writer.write(set, page.title);
      return sheets.takeFrom(from);
    };
    const place = JSON.stringify([from === 0, last]);
    sheets.put(sheetsOfPage(memo, input, page, place, blocks.shownMetrics, write), paperOf(page));
    if (i === 0) contentsAt = whole.length > 0 ? whole.length : sheets.count;
  });
  if (sheets.later.size > 0) {
    begins.push(sheets.count);
    drawNotesPages(sheets.later, sheets.on(paperOf(pages.at(-1)!)), input, palette);
  }
  if (!document.noContents && sheets.count >= CONTENTS_FROM) {
    const writer = sheets.on(paperOf(pages[0]!));
    const begun = writer.begin(format.words.contents);
    sheets.moveLast(contentsAt);
    const own = contentsAt;
    const from = pages[0]!.rows.some((r) => r.blocks.some((b) => blockKind(b).drawSheet)) ? contentsAt : 0;
    drawContents(begun.pen, input, palette, writer.sheet, sheets.pages, {
      from,
      own,
      begins: new Set(begins.map((at) => (at >= own ? at + 1 : at))),
      top: begun.top,
      bottom: begun.bottom,
    });
  }
  sheets.drawFeet();
  return {
    version: 1,
    lang: format.locale,
    title: `${input.title} · ${format.range(input.period)}`,
    author: input.agencyName,
    pages: sheets.pages,
  };
}
