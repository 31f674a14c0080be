import { answerAll, STANDARD } from '../src/figures/index.ts';
import { composeMail, mailPlain } from '../src/mail/index.ts';
import { composeGallery, GALLERY_DATES, galleryFacts } from '../src/page/gallery/index.ts';
import { type ComposeInput, type Frozen, mailPieces, type Ruler } from '../src/page/index.ts';
import {
  A4,
  type Block,
  blockOfPart,
  FRESH_MAIL,
  isShown,
  questionsOf,
  type ReportDocument,
} from '../src/report/index.ts';
import { formatterOf } from '../src/words/index.ts';

/** Characters so narrow that no line breaks: every sentence is one text. */
const ruler: Ruler = {
  runs: (face, text) => [{ face, text, advance: text.length / 400 }],
  syllables: (word) => [word],
};
const STATES = ['full', 'partial', 'none'] as const;

const BLOCKS: Block[] = [
  { kind: 'opening', id: 'b1', metric: 'revenue', dimension: 'channel' },
  { kind: 'kpiRow', id: 'b2', metrics: ['visits', 'revenue', 'orderRate', 'engagedTime'] },
  { kind: 'trend', id: 'b3', metric: 'revenue', title: '' },
  { kind: 'ranking', id: 'b4', dimension: 'channel', metrics: ['revenue', 'visits'], n: 3, title: '' },
];
const document: ReportDocument = {
  version: 2,
  period: { kind: 'fixed', ...GALLERY_DATES.period },
  comparison: { kind: 'previous' },
  pages: [{ id: 'p', title: 'Page', rows: BLOCKS.map((b) => ({ id: `r-${b.id}`, blocks: [b] })) }],
};

/** The email of a report in plain text, as its reader gets it. */
function mailIn(locale: string, state: (typeof STATES)[number]): string[] {
  const format = formatterOf(locale, 'GBP');
  const answers = answerAll(questionsOf(document, GALLERY_DATES, STANDARD), galleryFacts(state, STANDARD));
  const told = {
    ...GALLERY_DATES,
    title: 'Overview',
    clientName: 'Tarnbeck Pottery',
    agencyName: 'Fernglass Media',
    manager: null,
    asOf: null,
    paper: A4,
    document,
    dayNotes: [],
    commentary: {},
    brand: { main: '#2f6b3a', second: '#b8862d', footer: '', logo: null },
  };
  const input = { ...told, answers, book: STANDARD, format, ruler } as ComposeInput;
  const ids = FRESH_MAIL.parts.filter(isShown).map((p) => blockOfPart(document, p)!.id);
  const shown = mailPieces(input, ids).map((s) =>
    s.kind === 'chart' ? { ...s, file: 'c'.repeat(64), width: 356, height: 150 } : s,
  );
  const order = { ...told, metrics: { changed: {}, own: [] }, language: locale, currency: 'GBP' };
  const { subject, greeting } = format.words.mail;
  const written = composeMail(
    { order, answers, mail: { shown, logo: null } } as unknown as Frozen,
    { subject, message: greeting, note: 'The kiln was out of order.', mail: FRESH_MAIL },
    { firstName: 'Orla', manager: { name: 'Ines Tallow', email: 'ines@fernglass.example' }, number: '7' },
    { isTest: true, postalAddress: '1 Quay', unsubscribe: 'https://reports.example/leave' },
  );
  if (!written.ok) throw new Error(`${written.fault.field} cannot be filled in ${locale}`);
  return [written.mail.subject, ...mailPlain(written.mail, format.words).split('\n')];
}

/** A text without words says nothing that a language could get wrong. */
const hasWords = (text: string): boolean => /\p{L}{2}/u.test(text);

/**
 * What whole pages and a whole email say in one language, of figures that are complete, partial and missing: every kind of block
 * that there is. Each text of a page stands once, whatever its digits.
 */
export function wholeTexts(locale: string): string[] {
  const lines: string[] = [];
  const seen = new Set<string>();
  for (const state of STATES) {
    lines.push('', `## Pages, figures ${state}`);
    for (const page of composeGallery(locale, state, ruler).pages) {
      const texts = page.ops.flatMap((op) => (op.k === 'text' ? [op.text.trim()] : []));
      for (const text of texts) {
        // Days of an axis and numbers of pages differ in digits alone.
        const shape = text.replace(/\d+/g, '0');
        if (!hasWords(text) || seen.has(shape)) continue;
        seen.add(shape);
        lines.push(`${page.title} | ${text}`);
      }
    }
  }
  for (const state of STATES) {
    lines.push('', `## Email, figures ${state}`);
    for (const text of mailIn(locale, state)) if (hasWords(text)) lines.push(`line | ${text.trim()}`);
  }
  return lines;
}
