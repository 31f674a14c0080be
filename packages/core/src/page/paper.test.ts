import { describe, expect, it } from 'vitest';
import { A4, type Block, settlePaper } from '../report/index.ts';
import { createFormatter } from '../words/index.ts';
import { sampleScene, textsOf } from './gallery/sampleScene.ts';
import type { Op } from './scene.ts';

const rows: Block[][] = [
  [{ kind: 'heading', id: 'h', text: 'Where they came from' }],
  [{ kind: 'kpiRow', id: 'k', metrics: ['visits', 'revenue'] }],
  [{ kind: 'trend', id: 't', metric: 'visits', title: '' }],
  [
    { kind: 'ranking', id: 'r', dimension: 'channel', metrics: ['visits'], n: 5, title: '' },
    { kind: 'drivers', id: 'd', dimension: 'channel', metric: 'visits', n: 5, title: '' },
  ],
];
const sizes = (scene: ReturnType<typeof sampleScene>) => scene.pages.map((p) => [p.width, p.height]);

describe('sheets', () => {
  it('are what is said nearest to them: page, report, client, agency, A4 upright', () => {
    expect(settlePaper()).toEqual(A4);
    expect(settlePaper(undefined, { size: 'letter' }, { size: 'a4', orientation: 'landscape' })).toEqual({
      size: 'letter',
      orientation: 'landscape',
    });
    expect(settlePaper({ size: '', orientation: '' }, { size: 'letter', orientation: 'portrait' }).size).toBe('letter');
  });

  it('are as large as they are said to be, page by page', () => {
    expect(sizes(sampleScene({ rows, paper: { size: 'letter', orientation: 'portrait' } }))).toEqual([[612, 792]]);
    const across = sampleScene({ rows, pages: [{}, { paper: { orientation: 'landscape' } }] });
    expect(new Set(sizes(across).map(String))).toEqual(new Set(['595.28,841.89', '841.89,595.28']));
  });

  it.each([
    ['a4', 'portrait'],
    ['a4', 'landscape'],
    ['letter', 'portrait'],
    ['letter', 'landscape'],
  ] as const)('hold what is set on %s %s within their margins', (size, orientation) => {
    for (const page of sampleScene({ rows, paper: { size, orientation } }).pages) {
      for (const b of page.blocks) {
        expect(b.x).toBeGreaterThanOrEqual(42.5);
        expect(b.x + b.w).toBeLessThanOrEqual(page.width - 42.5);
        expect(b.y + b.h).toBeLessThanOrEqual(page.height - 42.5);
      }
    }
  });
});

describe('a page that is written from right to left', () => {
  const hebrew = sampleScene({ rows, language: 'he-IL' });
  const english = sampleScene({ rows });
  const mirrored = ({ pages: [page] }: typeof hebrew, k: Op['k']) => page!.ops.filter((op) => op.k === k);

  it('has its blocks on the other side', () => {
    const [a, b] = [english, hebrew].map((s) => new Map(s.pages[0]!.blocks.map((x) => [x.id, x])));
    const [left, right] = [a!.get('0r')!, a!.get('0d')!];
    expect(left.x).toBeLessThan(right.x);
    expect(b!.get('0r')!.x).toBeGreaterThan(b!.get('0d')!.x);
  });

  it('has its columns, bars and charts run the other way, within the same margins', () => {
    for (const op of mirrored(hebrew, 'rect')) {
      if (op.k !== 'rect') continue;
      expect(op.x).toBeGreaterThanOrEqual(42.5);
      expect(op.x + op.w).toBeLessThanOrEqual(595.28 - 42.5);
    }
    const firstOf = (scene: typeof hebrew, like: RegExp) =>
      scene.pages[0]!.ops.find((op) => op.k === 'text' && like.test(op.text)) as Extract<Op, { k: 'text' }>;
    expect(firstOf(english, /^1 Oct$/).x).toBeLessThan(firstOf(english, /^29 Oct$/).x);
    const day = createFormatter('he-IL', 'GBP').shortDate;
    const at = (date: string) => firstOf(hebrew, new RegExp(`^${day(date)}$`));
    expect(at('2026-10-01').x).toBeGreaterThan(at('2026-10-29').x);
  });

  it('says the same figures', () => {
    const figures = (scene: typeof hebrew) =>
      textsOf(scene)
        .filter((t) => /^[\d,]{5,}$/.test(t))
        .sort();
    expect(figures(hebrew)).toEqual(figures(english));
  });
});

describe('the foot', () => {
  const scene = sampleScene({
    rows: [...rows, ...rows, ...rows].map((r, i) => r.map((b) => ({ ...b, id: `${b.id}${i}` }))),
  });

  it('names the manager and the day of the figures on every sheet, and links to the manager once', () => {
    for (const { ops } of scene.pages) {
      const texts = ops.flatMap((op) => (op.k === 'text' ? [op.text] : []));
      expect(texts.join(' ')).toContain('Ines Tallow · ines.tallow@fernglass.example');
      expect(texts.join(' ')).toContain('Data as of 2 November 2026');
    }
    const links = scene.pages.map((p) => p.ops.filter((op) => op.k === 'open' && op.link).length);
    expect(links[0]).toBe(1);
    expect(links.slice(1).every((n) => n === 0)).toBe(true);
  });

  it('writes out in a link what would mean something there', () => {
    const manager = { name: 'Ines', email: 'in?cc=b&es+1@fernglass.example' };
    const { pages } = sampleScene({ rows, more: { manager } });
    const link = pages[0]!.ops.find((op) => op.k === 'open' && op.link !== undefined);
    expect(link).toMatchObject({ link: 'mailto:in%3Fcc%3Db%26es%2B1@fernglass.example', about: manager.email });
  });

  it('leaves out what is not known', () => {
    const bare = textsOf(sampleScene({ rows, more: { manager: null, asOf: null } })).join(' ');
    expect(bare).not.toContain('Ines Tallow');
    expect(bare).not.toContain('Data as of');
  });
});

describe('a trend', () => {
  const trend: Block[][] = [[{ kind: 'trend', id: 't', metric: 'visits', title: '' }]];

  it('names its highest and its lowest day', () => {
    const named = textsOf(sampleScene({ rows: trend })).filter((t) => /^\d+ Oct: [\d,]+$/.test(t));
    expect(named).toHaveLength(2);
  });

  it('shows the usual level where it is held against that', () => {
    const yardstick = { kind: 'typical' as const, ranges: [{ from: '2026-09-01', to: '2026-09-30' }] };
    const { period } = { period: { from: '2026-10-01', to: '2026-10-31' } };
    const texts = textsOf(sampleScene({ rows: trend, dates: { period, compared: null, yardstick } }));
    expect(texts.join(' ')).toMatch(/typically [\d,]+/);
  });

  it('keeps what was and what is apart without colour', () => {
    const days = { from: '2026-10-30', to: '2026-10-31' };
    const two = sampleScene({
      rows: trend,
      dates: { period: days, compared: { from: '2026-09-29', to: '2026-09-30' } },
    });
    const filled = two.pages[0]!.ops.flatMap((op) =>
      op.k === 'rect' || (op.k === 'path' && op.fill) ? [op.fill] : [],
    );
    expect(filled).not.toContain('#8a929b');
    const line = sampleScene({ rows: trend }).pages[0]!.ops.filter((op) => op.k === 'path' && op.stroke === '#8a929b');
    expect(line.length).toBeGreaterThan(0);
    for (const op of line) expect(op).toHaveProperty('dash');
  });
});

describe('a table', () => {
  const table: Block[][] = [[{ kind: 'ranking', id: 'r', dimension: 'channel', metrics: ['visits'], n: 5, title: '' }]];
  const period = { from: '2026-10-01', to: '2026-10-31' };
  const head = (scene: ReturnType<typeof sampleScene>) => textsOf(scene).includes('Change');

  it('holds each row against its own usual level', () => {
    const ranges = [{ from: '2026-09-01', to: '2026-09-30' }];
    const scene = sampleScene({
      rows: table,
      dates: { period, compared: null, yardstick: { kind: 'typical', ranges } },
    });
    const plain = sampleScene({ rows: table, dates: { period, compared: ranges[0]! } });
    expect(head(scene)).toBe(true);
    const changes = (s: typeof scene) => textsOf(s).filter((t) => /^[+−]\d+\.\d%$/.test(t)).length;
    // One range is its own usual level: the same rows change, but for what is left over.
    expect(changes(scene)).toBeGreaterThanOrEqual(changes(plain) - 1);
  });

  it('says beneath that fewer periods stand behind a usual level than were asked for, as every block does', () => {
    const ranges = [
      { from: '2026-09-01', to: '2026-09-30' },
      { from: '2020-08-01', to: '2020-08-31' },
    ];
    const dates = { period, compared: null, yardstick: { kind: 'typical' as const, ranges } };
    const kinds: Block[] = [
      ...table[0]!,
      { kind: 'trend', id: 't', metric: 'visits', title: '' },
      { kind: 'opening', id: 'o', metric: 'visits', dimension: 'channel' },
      { kind: 'kpiRow', id: 'k', metrics: ['visits'] },
    ];
    for (const block of kinds) {
      const said = textsOf(sampleScene({ rows: [[block]], dates })).join(' ');
      expect(said, block.kind).toContain('Typical visits: based on 1 of the 2 earlier periods');
    }
  });

  it('has no column for changes where nothing is held against', () => {
    expect(head(sampleScene({ rows: table, dates: { period, compared: null } }))).toBe(false);
    expect(head(sampleScene({ rows: table, dates: { period, compared: null, yardstick: { kind: 'target' } } }))).toBe(
      false,
    );
  });
});
