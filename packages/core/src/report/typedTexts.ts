import { ASSUMPTION_NAME, PAGE_TITLE } from '../bounds/index.ts';
import { type Block, blockKind } from './blocks/registry.ts';
import type { ReportDocument } from './document.ts';

/** A text of a design that somebody typed, and where it stands. Commentary is not among them: it is written for a client. */
export interface TypedText {
  text: string;
  /** The same for as long as the page, block or assumption is there. */
  place: string;
  of: { kind: 'page' } | { kind: 'assumption'; value: number } | { kind: 'block'; block: Block; label: string };
  /** The title of the page on which it stands; null for what is the report's as a whole. */
  page: string | null;
  /** Characters that there is room for. */
  most: number;
  /** A page and a heading are never without words. */
  isRequired: boolean;
}

/** The same document with each typed text as `change` wants it; an assumption whose name becomes empty is taken out. */
export function mapTypedTexts(document: ReportDocument, change: (typed: TypedText) => string): ReportDocument {
  const inBlock = (block: Block, page: string): Block => {
    const values: Record<string, unknown> = { ...block };
    for (const field of blockKind(block).fields) {
      const text = values[field.key];
      if (field.kind !== 'text' || typeof text !== 'string' || text.trim() === '') continue;
      values[field.key] = change({
        text,
        place: `${block.id}.${field.key}`,
        of: { kind: 'block', block, label: field.label },
        page,
        most: field.most,
        isRequired: field.required !== undefined,
      });
    }
    return values as unknown as Block;
  };
  const { assumptions, ...rest } = document;
  const named = (assumptions ?? [])
    .map((a) => ({
      ...a,
      label: change({
        text: a.label,
        place: `assumption.${a.key}`,
        of: { kind: 'assumption', value: a.value },
        page: null,
        most: ASSUMPTION_NAME,
        isRequired: false,
      }),
    }))
    .filter((a) => a.label !== '');
  return {
    ...rest,
    ...(named.length > 0 && { assumptions: named }),
    pages: document.pages.map((page) => ({
      ...page,
      title: change({
        text: page.title,
        place: page.id,
        of: { kind: 'page' },
        page: page.title,
        most: PAGE_TITLE,
        isRequired: true,
      }),
      rows: page.rows.map((row) => ({ ...row, blocks: row.blocks.map((b) => inBlock(b, page.title)) })),
    })),
  };
}

/** Every typed text of a document, in reading order. */
export function typedTexts(document: ReportDocument): TypedText[] {
  const found: TypedText[] = [];
  mapTypedTexts(document, (typed) => {
    found.push(typed);
    return typed.text;
  });
  return found;
}
