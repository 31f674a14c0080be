import { z } from 'zod';

/**
 * Typefaces that come with the product, in the order in which they are offered: each in a usual weight and a bold one, under
 * the SIL Open Font License or as free a one.
 */
export const TYPEFACES = [
  { key: 'sourceSans', name: 'Source Sans 3', serif: false },
  { key: 'sourceSerif', name: 'Source Serif 4', serif: true },
  { key: 'inter', name: 'Inter', serif: false },
  { key: 'plexSans', name: 'IBM Plex Sans', serif: false },
  { key: 'workSans', name: 'Work Sans', serif: false },
  { key: 'libreFranklin', name: 'Libre Franklin', serif: false },
  { key: 'lora', name: 'Lora', serif: true },
  { key: 'robotoSlab', name: 'Roboto Slab', serif: true },
] as const;

export type ShippedTypeface = (typeof TYPEFACES)[number]['key'];
const KEYS = TYPEFACES.map((t) => t.key) as [ShippedTypeface, ...ShippedTypeface[]];

const file = z.string().regex(/^[0-9a-f]{64}$/, 'Not a font file.');

/** One that somebody brought: its files by their SHA-256. Without a bold one the usual weight stands for both. */
const broughtTypeface = z.object({
  kind: z.literal('own'),
  name: z
    .string()
    .trim()
    .min(1, 'Enter a name.')
    .max(60, 'Maximum 60 characters.')
    // Marks of direction would turn the words beside it round.
    .regex(/^[^\p{Cc}\p{Cf}]*$/u, 'Use letters, digits and punctuation only.'),
  regular: file,
  bold: file.nullable(),
});
export type BroughtTypeface = z.infer<typeof broughtTypeface>;

export const typefaceSchema = z.union([z.enum(KEYS, 'Choose a font from the list.'), broughtTypeface]);
export type Typeface = z.infer<typeof typefaceSchema>;

/** What a kit writes with: words and figures, and what stands large. */
export const typefacesSchema = z.object({ text: typefaceSchema, heads: typefaceSchema });
export type Typefaces = z.infer<typeof typefacesSchema>;

/** What is written with where a kit says nothing. */
export const HOUSE_TYPEFACES: Typefaces = { text: 'sourceSans', heads: 'sourceSerif' };

export const nameOfTypeface = (typeface: Typeface): string =>
  typeof typeface === 'string' ? TYPEFACES.find((t) => t.key === typeface)!.name : typeface.name;

/** Those of a kit that somebody brought. */
export const broughtIn = (typefaces: Typefaces | undefined): BroughtTypeface[] =>
  Object.values(typefaces ?? {}).filter((t): t is BroughtTypeface => typeof t !== 'string');

export const filesOfTypeface = ({ regular, bold }: BroughtTypeface): string[] => (bold ? [regular, bold] : [regular]);

/** Files that a kit writes with, beside those that come with the product. */
export const filesOfTypefaces = (typefaces: Typefaces | undefined): string[] =>
  broughtIn(typefaces).flatMap(filesOfTypeface);
