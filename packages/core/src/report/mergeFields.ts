/** Where a filled-in text lands; decides how values are escaped (SEMANTICS §11). */
export type MergeTarget = 'text' | 'html' | 'header' | 'filename';

export type MergeFault = { code: 'unknown-field' | 'unresolved' | 'syntax'; field: string; at: number };
export type MergeResult = { ok: true; text: string } | { ok: false; fault: MergeFault };

/** A value that stands where the template names no fallback of its own. */
export interface Otherwise {
  otherwise: string;
}

/** Values by field name, `figure.KEY` and `change.KEY` included; null or absent is not resolvable. */
export type MergeContext = Readonly<Record<string, string | Otherwise | null | undefined>>;

export const MERGE_FIELDS = [
  'client.name',
  'contact.firstName',
  'period.label',
  'period.from',
  'period.to',
  'comparison.label',
  'report.title',
  'edition.number',
  'agency.name',
  'manager.name',
] as const;

type Part = { text: string } | { field: string; fallback: string | null; at: number };

function parse(template: string): Part[] | MergeFault {
  const parts: Part[] = [];
  let pos = 0;
  while (pos < template.length) {
    const open = template.indexOf('{{', pos);
    const stray = template.indexOf('}}', pos);
    if (stray >= 0 && (open < 0 || stray < open)) return { code: 'syntax', field: '}}', at: stray };
    if (open < 0) break;
    const close = template.indexOf('}}', open + 2);
    const inner = close < 0 ? '' : template.slice(open + 2, close);
    if (close < 0 || inner.includes('{{')) return { code: 'syntax', field: template.slice(open, open + 24), at: open };
    const bar = inner.indexOf('|');
    const field = (bar < 0 ? inner : inner.slice(0, bar)).trim();
    if (field === '') return { code: 'syntax', field: '{{}}', at: open };
    if (open > pos) parts.push({ text: template.slice(pos, open) });
    parts.push({ field, fallback: bar < 0 ? null : inner.slice(bar + 1).trim(), at: open });
    pos = close + 2;
  }
  if (pos < template.length) parts.push({ text: template.slice(pos) });
  return parts;
}

function isKnown(field: string, metrics: readonly string[]): boolean {
  if ((MERGE_FIELDS as readonly string[]).includes(field)) return true;
  const m = /^(?:figure|change)\.(.+)$/s.exec(field);
  return m !== null && metrics.includes(m[1]!);
}

const ENTITIES: Record<string, string> = { '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;', "'": '&#39;' };

/** Escapes the five characters that mean something in HTML text and attribute values. */
export const escapeHtml = (text: string): string => text.replace(/[&<>"']/g, (c) => ENTITIES[c]!);

/** Makes a value safe where it lands: a header keeps to one line (RFC 5322 §2.2), a file name to one folder. */
export function escapeFor(target: MergeTarget, value: string): string {
  switch (target) {
    case 'text':
      return value;
    case 'html':
      return escapeHtml(value);
    case 'header':
      return value.replace(/[\u0000-\u001f\u007f\u0085\u2028\u2029]+/g, ' ').trim();
    case 'filename':
      return value
        .replace(/[\u0000-\u001f\u007f/\\:*?"<>|]+/g, ' ')
        .replace(/\.{2,}/g, '.')
        .trim();
  }
}

const usable = (value: string | Otherwise | null | undefined): value is string =>
  typeof value === 'string' && value.trim() !== '' && !value.includes('{{') && !value.includes('}}');

/**
 * Fills the merge fields of a template (SEMANTICS §11). Nothing is filled in unless every field is;
 * values are never looked at for fields in their turn. `metrics` are the keys that `figure.` and `change.` know.
 */
export function fillMergeFields(
  template: string,
  target: MergeTarget,
  metrics: readonly string[],
  context: MergeContext,
): MergeResult {
  const parts = parse(template);
  if (!Array.isArray(parts)) return { ok: false, fault: parts };
  const unknown = parts.find((p) => 'field' in p && !isKnown(p.field, metrics));
  if (unknown && 'field' in unknown) {
    return { ok: false, fault: { code: 'unknown-field', field: unknown.field, at: unknown.at } };
  }
  let text = '';
  for (const part of parts) {
    if ('text' in part) {
      text += part.text;
      continue;
    }
    const own = Object.hasOwn(context, part.field) ? context[part.field] : null;
    const otherwise = own && typeof own === 'object' ? own.otherwise : null;
    const value = usable(own) ? own : (part.fallback ?? otherwise);
    if (!usable(value)) return { ok: false, fault: { code: 'unresolved', field: part.field, at: part.at } };
    text += escapeFor(target, value);
  }
  return { ok: true, text };
}

/**
 * Fills a template of which no field need have a value: where one has none, its fallback stands, or what `otherwise` says.
 * What cannot be read as fields stays as it is.
 */
export function fillFields(
  template: string,
  valueFor: (field: string) => string | Otherwise | null,
  otherwise: (field: string) => string,
): string {
  const parts = parse(template);
  if (!Array.isArray(parts)) return template;
  return parts
    .map((part) => {
      if ('text' in part) return part.text;
      const value = valueFor(part.field);
      if (usable(value)) return value;
      return part.fallback ?? (value && typeof value === 'object' ? value.otherwise : otherwise(part.field));
    })
    .join('');
}

/** The keys of metrics that a template names, as `figure.KEY` or `change.KEY`; none of one that cannot be read. */
export function metricsNamed(template: string): string[] {
  const parts = parse(template);
  if (!Array.isArray(parts)) return [];
  const fields = parts.flatMap((p) => ('field' in p ? [p.field] : []));
  return [...new Set(fields.filter((f) => /^(figure|change)\./.test(f)).map((f) => f.slice(f.indexOf('.') + 1)))];
}

/** The fault of a template that can be told before any value is known, or null. */
export function checkMergeFields(template: string, metrics: readonly string[]): MergeFault | null {
  const parts = parse(template);
  if (!Array.isArray(parts)) return parts;
  for (const p of parts) {
    if ('field' in p && !isKnown(p.field, metrics)) return { code: 'unknown-field', field: p.field, at: p.at };
  }
  return null;
}

/** A fault in words for the person who typed the template. */
export function describeMergeFault(fault: MergeFault): string {
  switch (fault.code) {
    case 'syntax':
      return `Unmatched braces at character ${fault.at + 1}. Write fields like {{client.name}}.`;
    case 'unknown-field':
      return `Unknown field {{${fault.field}}}. Available: ${MERGE_FIELDS.join(', ')}, figure.KEY and change.KEY.`;
    case 'unresolved':
      return `{{${fault.field}}} has no value here. Give it a fallback, as in {{${fault.field} | there}}.`;
  }
}
