import { z } from 'zod';

const colour = z.string().regex(/^#[0-9a-fA-F]{6}$/, 'Give a colour as # and six hexadecimal digits.');

/** A logo as plain drawing: filled or stroked paths in a box of its own units. */
const vectorLogo = z.object({
  kind: z.literal('vector'),
  width: z.number().positive(),
  height: z.number().positive(),
  paths: z.array(
    z.object({
      d: z.string(),
      fill: z.string().nullable(),
      stroke: z.string().nullable(),
      strokeWidth: z.number(),
      evenOdd: z.boolean(),
    }),
  ),
});

const imageLogo = z.object({
  kind: z.literal('image'),
  /** SHA-256 of the file in the data folder. */
  file: z.string(),
  type: z.enum(['image/png', 'image/jpeg']),
  width: z.number().positive(),
  height: z.number().positive(),
  /** Too pale to be seen on white paper; of pictures that were brought before this was looked at, none is. */
  pale: z.boolean().default(false),
});

/** A picture that is kept as a file. */
export type PictureFile = z.infer<typeof imageLogo>;

export const logoSchema = z.discriminatedUnion('kind', [vectorLogo, imageLogo]);

/** How a client's report looks: the logo, two colours, and what its footer says. */
export const brandSchema = z.object({
  main: colour,
  second: colour,
  /** Replaces "Prepared by …" when given. */
  footer: z.string().max(160, 'Keep the footer to 160 characters.'),
  logo: logoSchema.nullable(),
});

export type Logo = z.infer<typeof logoSchema>;
export type Brand = z.infer<typeof brandSchema>;
