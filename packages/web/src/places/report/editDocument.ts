import type { Report } from '@chronicon/core/contract';
import type { Block } from './BlockChoices.tsx';

type Document = Report['document'];
type Row = Document['pages'][number]['rows'][number];

const mapRows = (d: Document, edit: (rows: Row[]) => Row[]): Document => ({
  ...d,
  pages: d.pages.map((p) => {
    const rows = edit(p.rows);
    return rows === p.rows ? p : { ...p, rows };
  }),
});

const holds = (row: Row, id: string) => row.blocks.some((b) => b.id === id);

export const findBlock = (d: Document, id: string | null): Block | undefined =>
  d.pages.flatMap((p) => p.rows.flatMap((r) => r.blocks)).find((b) => b.id === id);

export const replaceBlock = (d: Document, block: Block): Document =>
  mapRows(d, (rows) =>
    rows.map((r) => (holds(r, block.id) ? { ...r, blocks: r.blocks.map((b) => (b.id === block.id ? block : b)) } : r)),
  );

export const removeBlock = (d: Document, id: string): Document =>
  mapRows(d, (rows) =>
    rows.map((r) => ({ ...r, blocks: r.blocks.filter((b) => b.id !== id) })).filter((r) => r.blocks.length > 0),
  );

/** Moves the row of a block up or down its page. */
export const moveBlock = (d: Document, id: string, by: -1 | 1): Document =>
  mapRows(d, (rows) => {
    const at = rows.findIndex((r) => holds(r, id));
    const to = at + by;
    if (at < 0 || to < 0 || to >= rows.length) return rows;
    const next = [...rows];
    [next[at], next[to]] = [next[to]!, next[at]!];
    return next;
  });

const freshId = () => `bl_${crypto.randomUUID().replaceAll('-', '').slice(0, 20)}`;

const EMPTY: { [K in Block['kind']]: () => Extract<Block, { kind: K }> } = {
  heading: () => ({ kind: 'heading', id: freshId(), text: 'A new heading' }),
  kpiRow: () => ({ kind: 'kpiRow', id: freshId(), metrics: ['visits'] }),
  trend: () => ({ kind: 'trend', id: freshId(), metric: 'visits', title: '' }),
  ranking: () => ({ kind: 'ranking', id: freshId(), dimension: 'channel', metrics: ['visits'], n: 5, title: '' }),
  drivers: () => ({ kind: 'drivers', id: freshId(), metric: 'visits', dimension: 'channel', n: 6, title: '' }),
  commentary: () => ({ kind: 'commentary', id: freshId(), span: 'period', text: '' }),
};

/** Adds a block below the given one, or at the end of the first page. */
export function addBlock(d: Document, kind: Block['kind'], below: string | null): [Document, string] {
  const block = EMPTY[kind]();
  const row: Row = { id: freshId(), blocks: [block] };
  const known = below !== null && findBlock(d, below) !== undefined;
  const pages = d.pages.map((p, i) => {
    const at = p.rows.findIndex((r) => known && holds(r, below));
    if (known ? at < 0 : i > 0) return p;
    const cut = known ? at + 1 : p.rows.length;
    return { ...p, rows: [...p.rows.slice(0, cut), row, ...p.rows.slice(cut)] };
  });
  return [{ ...d, pages }, block.id];
}
