import { z } from 'zod';
import { SEGMENT } from '../figures/index.ts';
import { metricKey as key } from './blocks/fields.ts';
import { type Block, blockKind } from './blocks/registry.ts';
import type { ReportDocument } from './document.ts';

/** What of a design a client calls otherwise: its metrics and dimensions, each by another of the client's. */
export const bindingSchema = z.strictObject({
  metrics: z.record(key, key).default({}),
  dimensions: z.record(key, key).default({}),
});
export type Binding = z.infer<typeof bindingSchema>;

/** What a design asks of a client. */
export interface Needs {
  metrics: string[];
  dimensions: string[];
}

const FIGURE = /(\{\{\s*(?:figure|change)\.)([^}|\s]+)/g;

/** Names of metrics in the fields of a text. */
const named = (text: string): string[] => [...text.matchAll(FIGURE)].map((m) => m[2]!);

const fieldsOf = (block: Block) => blockKind(block).fields;

function ofBlock(block: Block): Needs {
  const values = block as unknown as Record<string, unknown>;
  const needs: Needs = { metrics: [], dimensions: (block.filter ?? []).map((p) => p.dimension) };
  for (const field of fieldsOf(block)) {
    const value = values[field.key];
    if (field.kind === 'metric' && typeof value === 'string') needs.metrics.push(value);
    if (field.kind === 'metrics' && Array.isArray(value)) needs.metrics.push(...(value as string[]));
    if (field.kind === 'dimension' && typeof value === 'string' && value !== '') needs.dimensions.push(value);
    if (field.kind === 'commentary') needs.metrics.push(...named(String(values.text ?? '')));
  }
  return needs;
}

/** The metrics and dimensions that a design asks of a client, each once, in reading order. */
export function needsOf(document: ReportDocument): Needs {
  const all = document.pages.flatMap((p) => p.rows.flatMap((r) => r.blocks.map(ofBlock)));
  const whole = (document.filter ?? []).map((p) => p.dimension);
  return {
    metrics: [...new Set(all.flatMap((n) => n.metrics))],
    dimensions: [...new Set([...whole, ...all.flatMap((n) => n.dimensions)])].filter((d) => d !== SEGMENT),
  };
}

function bindBlock(block: Block, { metrics, dimensions }: Binding): Block {
  const metric = (m: string) => metrics[m] ?? m;
  const dimension = (d: string) => dimensions[d] ?? d;
  const values: Record<string, unknown> = { ...block };
  for (const field of fieldsOf(block)) {
    const value = values[field.key];
    if (field.kind === 'metric' && typeof value === 'string') values[field.key] = metric(value);
    if (field.kind === 'metrics' && Array.isArray(value))
      values[field.key] = [...new Set((value as string[]).map(metric))];
    if (field.kind === 'dimension' && typeof value === 'string') values[field.key] = dimension(value);
    if (field.kind === 'commentary' && typeof values.text === 'string')
      values.text = values.text.replace(FIGURE, (_, open: string, m: string) => open + metric(m));
  }
  if (block.filter) values.filter = block.filter.map((p) => ({ ...p, dimension: dimension(p.dimension) }));
  return values as unknown as Block;
}

/** A design with the client's own metrics and dimensions in the place of those that it calls otherwise. */
export const bindDocument = (document: ReportDocument, binding: Binding): ReportDocument => ({
  ...document,
  ...(document.filter && {
    filter: document.filter.map((p) => ({ ...p, dimension: binding.dimensions[p.dimension] ?? p.dimension })),
  }),
  pages: document.pages.map((page) => ({
    ...page,
    rows: page.rows.map((row) => ({ ...row, blocks: row.blocks.map((b) => bindBlock(b, binding)) })),
  })),
});
