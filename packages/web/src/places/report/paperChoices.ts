import type { Document } from './documentEdits.ts';

type Paper = NonNullable<Document['paper']>;

/** How a sheet may be; empty: as what stands above says. */
export const SIZES = [
  { value: '', label: 'Same as the client' },
  { value: 'a4', label: 'A4' },
  { value: 'letter', label: 'Letter' },
];
export const LIES = [
  { value: '', label: 'Same as the client' },
  { value: 'portrait', label: 'Portrait' },
  { value: 'landscape', label: 'Landscape' },
];
export const PAGE_LIES = [{ value: '', label: 'Same as the report' }, ...LIES.slice(1)];

/** A choice with one of its parts changed; an empty text leaves the part to what stands above. */
export function changedPaper(paper: Paper | undefined, part: keyof Paper, value: string): Paper {
  const { [part]: _, ...rest } = paper ?? {};
  return value === '' ? rest : { ...rest, [part]: value as never };
}
