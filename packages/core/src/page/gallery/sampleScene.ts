import { answerAll, type Dataset, type Knowledge, STANDARD } from '../../figures/index.ts';
import { A4, type Block, type Dates, type Paper, questionsOf, type ReportDocument } from '../../report/index.ts';
import { formatterOf } from '../../words/index.ts';
import { compose } from '../compose.ts';
import type { ComposeInput } from '../composeInput.ts';
import type { Ruler } from '../ruler.ts';
import type { Scene } from '../scene.ts';
import { GALLERY_DATES, galleryFacts } from './states.ts';

/** Every character is half an em wide, and what is read from right to left is one run: enough to lay out by. */
export const plainRuler: Ruler = {
  runs: (face, text, { direction }) => [
    { face, text, advance: text.length / 2, ...(direction === 'rtl' && { rtl: true as const }) },
  ],
  syllables: (word) => [word],
};

export interface Sample {
  rows: Block[][];
  dates?: Dates;
  language?: string;
  paper?: Paper;
  facts?: Dataset[];
  knowledge?: Knowledge;
  more?: Partial<ComposeInput>;
  pages?: Partial<ReportDocument['pages'][number]>[];
}

/** A report of some blocks from the gallery's facts, with all that it is made of. */
export function sampleOf(sample: Sample) {
  const {
    rows,
    dates = GALLERY_DATES,
    language = 'en-GB',
    knowledge = { book: STANDARD, targets: [] },
    pages = [{}],
  } = sample;
  const document: ReportDocument = {
    version: 2,
    period: { kind: 'fixed', ...dates.period },
    comparison: { kind: 'previous' },
    pages: pages.map((page, p) => ({
      id: `p${p}`,
      title: `Page ${p + 1}`,
      rows: rows.map((blocks, r) => ({ id: `r${p}-${r}`, blocks: blocks.map((b) => ({ ...b, id: `${p}${b.id}` })) })),
      ...page,
    })),
  };
  const answers = answerAll(
    questionsOf(document, dates, knowledge.book),
    sample.facts ?? galleryFacts('full', STANDARD),
    knowledge,
  );
  const input: ComposeInput = {
    ...dates,
    title: 'Monthly overview',
    clientName: 'Tarnbeck Pottery',
    agencyName: 'Fernglass Media',
    manager: { name: 'Ines Tallow', email: 'ines.tallow@fernglass.example' },
    asOf: '2026-11-02',
    document,
    paper: sample.paper ?? A4,
    answers,
    book: knowledge.book,
    dayNotes: [],
    commentary: {},
    brand: { main: '#274e66', second: '#d98f3d', footer: '', logo: null },
    format: formatterOf(language, 'GBP'),
    ruler: plainRuler,
    ...sample.more,
  };
  return { document, answers, input };
}

export const sampleScene = (sample: Sample): Scene => compose(sampleOf(sample).input);

/** What is read on a scene's pages, one text after the other. */
export const textsOf = (scene: Scene): string[] =>
  scene.pages.flatMap((p) => p.ops.flatMap((op) => (op.k === 'text' ? [op.text.trim()] : [])));
