import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { answerAll, STANDARD } from '../figures/index.ts';
import { type Block, questionsOf, type ReportDocument } from '../report/index.ts';
import { compose } from './compose.ts';
import type { ComposeInput } from './composeInput.ts';
import { GALLERY_DATES, galleryFacts } from './gallery/index.ts';
import { sampleOf } from './gallery/sampleScene.ts';
import type { PageMemo } from './pageMemo.ts';

const facts = galleryFacts('full', STANDARD);
const rows: Block[][] = [
  [{ kind: 'heading', id: 'h', text: 'How it went' }],
  [{ kind: 'kpiRow', id: 'k', metrics: ['visits', 'revenue'] }],
  [{ kind: 'commentary', id: 'c', span: 'standing', text: 'Visits: {{figure.visits}}.' }],
  [{ kind: 'ranking', id: 'r', dimension: 'channel', metrics: ['visits', 'orders'], n: 5, title: '' }],
  [{ kind: 'notes', id: 'n', title: '' }],
];
const start = () => sampleOf({ rows, pages: Array.from({ length: 7 }, () => ({})) });

/** What a hand does to a report: to the words, the order, the size and the questions of one page. */
const anEdit = fc.record({
  page: fc.nat(6),
  what: fc.constantFrom('words', 'written', 'move', 'narrow', 'metric', 'rows', 'drop', 'footer', 'facts'),
  n: fc.integer({ min: 1, max: 9 }),
});
type Edit = typeof anEdit extends fc.Arbitrary<infer T> ? T : never;

interface State {
  document: ReportDocument;
  commentary: Record<string, string>;
  footer: string;
  /** Which of two states of the facts is read. */
  facts: number;
}

function edited(state: State, { page: p, what, n }: Edit): State {
  const document = structuredClone(state.document);
  const page = document.pages[p]!;
  const block = <K extends Block['kind']>(kind: K) =>
    page.rows.flatMap((r) => r.blocks).find((b): b is Extract<Block, { kind: K }> => b.kind === kind)!;
  if (what === 'words') block('heading').text = `Words ${n}`;
  if (what === 'written') return { ...state, commentary: { ...state.commentary, [`${p}c`]: `Written ${n}.` } };
  if (what === 'move') page.rows.push(...page.rows.splice(n % page.rows.length, 1));
  if (what === 'narrow') block('kpiRow').columns = 2 + n;
  if (what === 'metric') block('ranking').metrics = n % 2 === 0 ? ['visits'] : ['revenue', 'visits'];
  if (what === 'rows') block('ranking').n = n;
  if (what === 'drop') page.dropped = page.dropped ? undefined : true;
  if (what === 'footer') return { ...state, footer: `Foot ${n % 3}` };
  if (what === 'facts') return { ...state, facts: n % 2 };
  return { ...state, document };
}

function createMemo() {
  const kept = new Map<string, never>();
  let laidOut = 0;
  const memoOf = (basis: string): PageMemo => ({
    basis,
    get: (key) => kept.get(key),
    set: (key, page) => {
      laidOut++;
      kept.set(key, page as never);
    },
  });
  return { memoOf, laidOut: () => laidOut };
}

const states = [facts, galleryFacts('huge', STANDARD)];
/** Answers are the same objects as long as the facts are, as whoever keeps them hands them over. */
const answers = states.map(() => new Map<string, ReturnType<typeof answerAll>[string]>());

function inputOf({ document, commentary, footer, facts: at }: State, base: ComposeInput): ComposeInput {
  const fresh = answerAll(questionsOf(document, GALLERY_DATES, STANDARD), states[at]!);
  const kept = answers[at]!;
  for (const [key, answer] of Object.entries(fresh)) if (!kept.has(key)) kept.set(key, answer);
  const known = Object.fromEntries(Object.keys(fresh).map((key) => [key, kept.get(key)!]));
  return { ...base, document, commentary, answers: known, brand: { ...base.brand, footer } };
}

describe('sheets that are kept while a report is edited', () => {
  it('are the very sheets that would be laid out anew, whatever was edited before', () => {
    fc.assert(
      fc.property(fc.array(anEdit, { minLength: 1, maxLength: 12 }), (edits) => {
        const { document, input } = start();
        const { memoOf } = createMemo();
        let state: State = { document, commentary: {}, footer: '', facts: 0 };
        for (const edit of edits) {
          state = edited(state, edit);
          if (state.document.pages.every((p) => p.dropped)) continue;
          const now = inputOf(state, input);
          expect(compose(now, memoOf(state.footer))).toEqual(compose(now));
        }
      }),
      { numRuns: 12, seed: 3 },
    );
  });

  it('are laid out anew only where something changed', () => {
    const { document, input } = start();
    const { memoOf, laidOut } = createMemo();
    let state: State = { document, commentary: {}, footer: '', facts: 0 };
    const draw = () => {
      const before = laidOut();
      compose(inputOf(state, input), memoOf(state.footer));
      return laidOut() - before;
    };
    expect(draw()).toBe(7);
    expect(draw()).toBe(0);
    // With its foot, too, a sheet that is the same is the same object: whoever knows it need not look into it.
    const drawn = () => compose(inputOf(state, input), memoOf('')).pages;
    const [before, after] = [drawn(), drawn()];
    expect(after.filter((page, i) => page !== before[i]).map((p) => p.title)).toEqual(['Contents']);
    state = edited(state, { page: 4, what: 'words', n: 1 });
    expect(draw()).toBe(1);
    state = edited(state, { page: 2, what: 'move', n: 1 });
    expect(draw()).toBe(1);
    state = edited(state, { page: 1, what: 'facts', n: 1 });
    expect(draw()).toBe(7);
  });
});
