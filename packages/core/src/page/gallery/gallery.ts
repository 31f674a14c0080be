import { type Answer, type Answers, answerAll, type Item, STANDARD } from '../../figures/index.ts';
import {
  A4,
  BLOCK_KINDS,
  type Block,
  type BlockKind,
  type Logo,
  questionsOf,
  type ReportDocument,
  type Typefaces,
} from '../../report/index.ts';
import { formatterOf, wordsFor } from '../../words/index.ts';
import { compose } from '../compose.ts';
import type { Ruler } from '../ruler.ts';
import type { Scene } from '../scene.ts';
import { GALLERY_DATES, type GalleryState, galleryFacts, galleryNoteDays } from './states.ts';

const HUGE_WORDS =
  'Donaudampfschifffahrtsgesellschaftskapitänsmützenabzeichen and what came of it in the third quarter of the year';

/** A drawing that stands for whatever somebody brings. */
export const SAMPLE_PICTURE: Logo = {
  kind: 'vector',
  width: 40,
  height: 24,
  paths: [{ d: 'M0 0L40 0L40 24L0 24Z', fill: '#8aa0ad', stroke: null, strokeWidth: 0, evenOdd: false }],
};

/** Metrics that a block with room for several shows, by how many it has room for. */
const METRICS = ['revenue', 'visits', 'orderRate', 'bounceRate', 'engagedTime', 'pagesPerVisit', 'orders', 'pageViews'];

/** A new block, with as much in each of its choices as they have room for where the state is huge. */
function blockOf(kind: BlockKind<Block>, id: string, language: string, state: GalleryState): Block {
  const made: Record<string, unknown> = {
    ...kind.make(id, { words: wordsFor(language), metric: 'revenue', dimension: 'channel' }),
  };
  for (const field of kind.fields) {
    if (field.kind === 'metrics')
      made[field.key] = METRICS.slice(0, state === 'huge' ? field.most : Math.min(2, field.most));
    if (field.kind === 'picture') made[field.key] = SAMPLE_PICTURE;
    if (state !== 'huge') continue;
    if (field.kind === 'dimension' && field.none !== undefined) made[field.key] = 'channel';
    if (field.kind === 'choice') made[field.key] = field.options.at(-1)!.value;
    if (field.kind === 'text') made[field.key] = HUGE_WORDS.slice(0, field.most).trim();
    if (field.kind === 'count') made[field.key] = Math.min(field.most, 20);
  }
  return made as unknown as Block;
}

/** Blocks of a row. */
const ABREAST = [1, 2, 3];

/** A page for each kind of block, on which it stands alone, and two and three abreast. */
function documentOf(language: string, state: GalleryState, kinds: readonly BlockKind<Block>[]): ReportDocument {
  return {
    version: 2,
    period: { kind: 'fixed', ...GALLERY_DATES.period },
    comparison: { kind: 'previous' },
    pages: kinds.map((kind) => ({
      id: kind.kind,
      title: wordsFor(language).blocks[kind.kind] ?? kind.kind,
      rows: ABREAST.map((n) => ({
        id: `${kind.kind}-${n}`,
        blocks: Array.from({ length: n }, (_, i) => blockOf(kind, `${kind.kind}-${n}-${i + 1}`, language, state)),
      })),
    })),
  };
}

/** Items with a picture each, of which every third is not to be had. */
function pictured(answers: Answers): { answers: Answers; pictures: Record<string, Logo | null> } {
  const pictures: Record<string, Logo | null> = {};
  const shown = (items: readonly Item[]): Item[] =>
    items.map((item, i) => {
      const picture = `https://pictures.example/${encodeURIComponent(item.label)}`;
      pictures[picture] = i % 3 === 2 ? null : SAMPLE_PICTURE;
      return { ...item, picture };
    });
  const told = Object.entries(answers).map(([key, a]): [string, Answer] =>
    a.op === 'items' && !('na' in a.standing)
      ? [key, { ...a, standing: { ...a.standing, best: shown(a.standing.best), worst: shown(a.standing.worst) } }]
      : [key, a],
  );
  return { answers: Object.fromEntries(told), pictures };
}

/**
 * Every kind of block in three widths, in one language and one state of its figures, as the renderer lays it out: for
 * whoever writes a block, and for the tests. `only` is one kind.
 */
export function composeGallery(
  language: string,
  state: GalleryState,
  ruler: Ruler,
  only: string | null = null,
  typefaces?: Typefaces,
): Scene {
  const kinds = BLOCK_KINDS.filter((k) => only === null || k.kind === only);
  const document = documentOf(language, state, kinds);
  const blocks = document.pages.flatMap((p) => p.rows.flatMap((r) => r.blocks));
  return compose({
    ...GALLERY_DATES,
    title: wordsFor(language).blocks[only ?? ''] ?? 'Gallery',
    clientName: state === 'huge' ? HUGE_WORDS.slice(0, 75) : 'Tarnbeck Pottery',
    agencyName: 'Fernglass Media',
    manager: { name: 'Ines Tallow', email: 'ines.tallow@fernglass.example' },
    asOf: '2026-11-02',
    paper: A4,
    document,
    ...pictured(answerAll(questionsOf(document, GALLERY_DATES, STANDARD), galleryFacts(state, STANDARD))),
    book: STANDARD,
    dayNotes: state === 'none' ? [] : [{ ...galleryNoteDays(), text: 'The kiln was out of order.' }],
    commentary: Object.fromEntries(
      blocks.map((b) => [b.id, state === 'none' ? '' : `${HUGE_WORDS}.\n\n- A first point\n- ${HUGE_WORDS}`]),
    ),
    brand: { main: '#274e66', second: '#d98f3d', footer: '', logo: null, ...(typefaces && { typefaces }) },
    format: formatterOf(language, 'GBP'),
    ruler,
  });
}
