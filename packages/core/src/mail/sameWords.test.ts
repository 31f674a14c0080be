import { describe, expect, it } from 'vitest';
import { answerAll, STANDARD } from '../figures/index.ts';
import { GALLERY_DATES, GALLERY_STATES, type GalleryState, galleryFacts } from '../page/gallery/index.ts';
import { type ComposeInput, compose, type DrawOrder, type Frozen, mailPieces, type Ruler } from '../page/index.ts';
import {
  A4,
  type Block,
  blockOfPart,
  FRESH_MAIL,
  isShown,
  type MailDesign,
  questionsOf,
  type ReportDocument,
} from '../report/index.ts';
import { formatterOf, LOCALES } from '../words/index.ts';
import { composeMail, type MailContent, mailHtml, mailPlain } from './index.ts';

/** Every character is a third of an em wide: lines hold what they have to. */
const ruler: Ruler = {
  runs: (face, text) => [{ face, text, advance: text.length / 3 }],
  syllables: (word) => [word],
};

const LANGUAGES = LOCALES.map((l) => l.value).filter(
  (l, i, all) => all.findIndex((o) => o.slice(0, 2) === l.slice(0, 2)) === i,
);

const BLOCKS: Block[] = [
  { kind: 'opening', id: 'b1', metric: 'revenue', dimension: 'channel' },
  { kind: 'kpiRow', id: 'b2', metrics: ['visits', 'revenue', 'orderRate', 'engagedTime'] },
  { kind: 'trend', id: 'b3', metric: 'revenue', title: '' },
  { kind: 'ranking', id: 'b4', dimension: 'channel', metrics: ['revenue', 'visits'], n: 20, title: '' },
];
const document: ReportDocument = {
  version: 2,
  period: { kind: 'fixed', ...GALLERY_DATES.period },
  comparison: { kind: 'previous' },
  pages: [{ id: 'p', title: 'Page', rows: BLOCKS.map((b) => ({ id: `r-${b.id}`, blocks: [b] })) }],
};
const facts = Object.fromEntries(GALLERY_STATES.map((s) => [s, galleryFacts(s, STANDARD)]));
const answersIn = Object.fromEntries(
  GALLERY_STATES.map((s) => [s, answerAll(questionsOf(document, GALLERY_DATES, STANDARD), facts[s]!)]),
);

const people = { firstName: 'Orla', manager: { name: 'Ines Tallow', email: 'ines@fernglass.example' }, number: '7' };

function made(language: string, state: GalleryState, over: Partial<DrawOrder> = {}) {
  const answers = answersIn[state]!;
  const format = formatterOf(language, 'EUR');
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
    ...over,
  };
  const input = { ...told, answers, book: STANDARD, format, ruler } as ComposeInput;
  const ids = FRESH_MAIL.parts.filter(isShown).map((p) => blockOfPart(document, p)!.id);
  const shown = mailPieces(input, ids).map((s) =>
    s.kind === 'chart' ? { ...s, file: 'c'.repeat(64), width: 356, height: 150 } : s,
  );
  const order = { ...told, metrics: { changed: {}, own: [] }, language, currency: 'EUR' };
  const frozen = { order, answers, mail: { shown, logo: null } } as unknown as Frozen;
  return { scene: compose(input), frozen, words: format.words };
}

function write(frozen: Frozen, design: MailDesign, texts: { subject?: string; message?: string; note?: string } = {}) {
  const written = composeMail(
    frozen,
    { subject: '{{report.title}}', message: 'Hello {{contact.firstName}}', ...texts, mail: design },
    people,
    { isTest: false },
  );
  if (!written.ok) throw new Error(written.fault.field);
  return written.mail;
}

const ENTITIES: Record<string, string> = { '&amp;': '&', '&lt;': '<', '&gt;': '>', '&quot;': '"', '&#39;': "'" };
/** What a person reads of HTML, white space apart. */
const readHtml = (html: string): string =>
  html
    .replace(/<style>[\s\S]*?<\/style>/, '')
    .replace(/<[^>]+>/g, ' ')
    .replace(/&(amp|lt|gt|quot|#39);/g, (e) => ENTITIES[e]!);
const bare = (text: string): string => text.replace(/[\s\u200e\u200f]+/g, '');

/** All figures and changes that a mail prints, and its sentence. */
const saidBy = (mail: MailContent): string[] =>
  mail.sections.flatMap((s) => {
    switch (s.kind) {
      case 'sentence':
      case 'reason':
        return [s.text];
      case 'figures':
        return s.figures.flatMap((f) => [f.label, f.figure, f.change, f.verdict, ...f.lines]);
      case 'table':
        return [...s.heads, ...s.lines.flatMap((l) => [l.label, ...l.cells.map((c) => c.text)])];
      default:
        return [];
    }
  });

describe.each(LANGUAGES)('a mail in %s', (language) => {
  it.each(GALLERY_STATES)('says what its pages say, in HTML and in plain text, of figures that are %s', (state) => {
    const { scene, frozen, words } = made(language, state);
    const mail = write(frozen, FRESH_MAIL);
    const html = mailHtml(mail);
    const texts = scene.pages.flatMap((p) => p.ops.flatMap((op) => (op.k === 'text' ? [op.text] : [])));
    // Labels are hyphenated nowhere here; words of a sentence stand in the order in which they are read.
    const page = bare(texts.join(' '));
    const [inHtml, inPlain] = [bare(readHtml(html)), bare(mailPlain(mail, words))];
    const said = saidBy(mail).filter((t) => t !== '');
    expect(said.length).toBeGreaterThan(state === 'none' ? 5 : 30);
    for (const text of said) {
      expect(inHtml).toContain(bare(text));
      expect(inPlain).toContain(bare(text));
      // A figure that has no room on the page is written shorter there.
      if (state !== 'huge') expect(page).toContain(bare(text));
    }
    // What has to be said of figures goes with them wherever they go.
    for (const s of mail.sections) {
      for (const note of 'notes' in s ? s.notes : []) {
        expect(inHtml).toContain(bare(note));
        expect(inPlain).toContain(bare(note));
      }
    }
    expect(Buffer.byteLength(html)).toBeLessThan(100_000);
    expect(html).not.toMatch(/https?:\/\/(?!www\.example)/);
    expect(html).toContain(`dir="${language.startsWith('he') ? 'rtl' : 'ltr'}"`);
  });
});

describe('what a mail shows', () => {
  const { frozen, words } = made('en-GB', 'full');

  it('keeps the order of its parts, with dates above the first figures', () => {
    const kinds = (design: MailDesign) => write(frozen, design).sections.map((s) => s.kind);
    expect(kinds(FRESH_MAIL)).toEqual(['text', 'sentence', 'dates', 'figures', 'chart', 'table', 'signature']);
    expect(kinds({ ...FRESH_MAIL, parts: [{ kind: 'table' }, { kind: 'message' }, { kind: 'sentence' }] })).toEqual([
      'dates',
      'table',
      'text',
      'sentence',
    ]);
    expect(kinds({ preview: '', files: [], parts: [{ kind: 'message' }] })).toEqual(['text']);
  });

  it('has the manager’s note where there is one, a button that leads on, and who stands behind it', () => {
    const design: MailDesign = {
      preview: 'Visits {{figure.visits}}',
      files: [],
      parts: [
        { kind: 'message' },
        { kind: 'note' },
        { kind: 'button', label: 'See it with {{agency.name}}', link: 'https://www.example.com/a?b=1&c=2' },
        { kind: 'signature' },
      ],
    };
    const mail = write(frozen, design, { note: 'Fair week.\n\nMore soon.' });
    const [html, plain] = [mailHtml(mail), mailPlain(mail, words)];
    expect(html).toContain('href="https://www.example.com/a?b=1&amp;c=2"');
    expect(plain).toContain('See it with Fernglass Media\nhttps://www.example.com/a?b=1&c=2');
    expect(plain).toContain('A note from Ines Tallow\nFair week.\n\nMore soon.');
    expect(plain).toContain('Kind regards\nInes Tallow\nFernglass Media\nines@fernglass.example');
    expect(mail.preview).toMatch(/^Visits \d/);
    expect(html.indexOf(mail.preview)).toBeLessThan(html.indexOf('Hello Orla'));
    expect(write(frozen, design).sections.map((s) => s.kind)).not.toContain('note');
  });

  it('shows the first rows of a long table, its total, and how many more there are', () => {
    const huge = made('en-GB', 'huge');
    const mail = write(huge.frozen, FRESH_MAIL);
    const table = mail.sections.find((s) => s.kind === 'table')!;
    expect(table.lines).toHaveLength(11);
    expect(table.lines.at(-1)).toMatchObject({ label: 'Total', isTotal: true });
    // Twenty rows and “Other” stand on the page.
    expect(table.rest).toBe('11 more rows in the report');
    expect(mailPlain(mail, huge.words)).toContain(table.rest);
    expect(mailHtml(mail)).toContain(table.rest);
  });

  it('says each note once, and tells the chart to whoever does not see it', () => {
    const partial = made('en-GB', 'partial');
    const mail = write(partial.frozen, FRESH_MAIL);
    const notes = mail.sections.flatMap((s) => ('notes' in s ? [...s.notes] : []));
    expect(notes.length).toBeGreaterThan(0);
    expect(new Set(notes).size).toBe(notes.length);
    const chart = mail.sections.find((s) => s.kind === 'chart')!;
    expect(chart.alt).toContain('Revenue per day');
    expect(mailHtml(mail)).toContain(`alt="${chart.alt.replace(/"/g, '&quot;')}"`);
    expect(mailPlain(mail, partial.words)).toContain(chart.alt);
  });

  it('lets no words of a stranger break out of their place', () => {
    const evil = '"><script>alert(1)</script>\r\nBcc: all@example.com\u202e';
    const order = { clientName: evil, agencyName: evil, title: evil };
    const { frozen: hostile, words: w } = made('en-GB', 'full', order);
    const mail = write(hostile, FRESH_MAIL, { subject: '{{client.name}} {{report.title}}', note: evil });
    const html = mailHtml(mail);
    expect(html).not.toContain('<script');
    expect(mail.subject).not.toMatch(/[\r\n\u202e]/);
    expect(mail.fileName).not.toMatch(/[/\\<>:*?"|\r\n\u202e]/);
    expect(html).not.toContain('\u202e');
    expect(mailPlain(mail, w)).not.toContain('\u202e');
    // Whatever stands between two angle brackets is markup of the mail’s own.
    expect(
      html
        .match(/<\/?([a-z0-9]+)/g)!
        .every((t) => /^<\/?(html|head|meta|title|style|body|div|table|tr|td|th|img|p|h2|span|br|b|a)$/.test(t)),
    ).toBe(true);
  });
});
