import { z } from 'zod';
import { BRAND_ADDRESS } from '../bounds/index.ts';
import { typefacesSchema } from './typefaces.ts';

const colour = z.string().regex(/^#[0-9a-fA-F]{6}$/, 'Enter a colour as # and six hexadecimal digits.');

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

/** Which picture of a kit: the logo, that for dark ground, the cover's, or the one at the head of mails. */
export const BRAND_PICTURES = ['logo', 'logoDark', 'cover', 'mailHead'] as const;
export type BrandPicture = (typeof BRAND_PICTURES)[number];

/** Parts of a kit that a client may have as the agency has them, and that follow when the agency changes them. */
export const KIT_PARTS = ['colours', 'typefaces', 'footer', 'address', 'logo', 'cover', 'mail'] as const;
export type KitPart = (typeof KIT_PARTS)[number];

export const MAIL_LOOKS = ['letter', 'sheet'] as const;
export type MailLook = (typeof MAIL_LOOKS)[number];

const address = z.string().max(BRAND_ADDRESS, `Maximum ${BRAND_ADDRESS} characters.`);

/** What a kit says of itself in words, colours and typefaces. */
const said = {
  main: colour,
  second: colour,
  /** Left out: those of the house. */
  typefaces: typefacesSchema.optional(),
  /** Replaces "Prepared by …" when given. */
  footer: z.string().max(160, 'Maximum 160 characters.'),
  /** How mails look: a plain letter, or a sheet on a tinted ground under a band of the main colour; left out: a letter. */
  mailLook: z.enum(MAIL_LOOKS).optional(),
  /** Of the agency or the client, beneath the footer of the first sheet; left out: none. */
  address: address.optional(),
};

/** Pictures of a kit; each left out: none. */
const pictures = {
  /** For dark ground; left out: the other one. */
  logoDark: logoSchema.nullable().optional(),
  /** On the cover. */
  cover: imageLogo.nullable().optional(),
  /** At the head of mails. */
  mailHead: imageLogo.nullable().optional(),
};

/** What is typed of the agency's kit. */
export const agencyBrandInput = z.object(said);
/** The agency's kit: what its clients have where they have nothing of their own. */
export const agencyBrandSchema = z.object({ ...said, logo: logoSchema.nullable().optional(), ...pictures });
export type AgencyBrand = z.infer<typeof agencyBrandSchema>;

/** How a client's report looks: the logo, two colours, a picture of the cover, and what its foot says. */
export const brandSchema = z.object({
  ...said,
  logo: logoSchema.nullable(),
  ...pictures,
  /** Parts that are as the agency has them; left out: none. */
  follows: z.array(z.enum(KIT_PARTS)).optional(),
});

export type Logo = z.infer<typeof logoSchema>;
export type Brand = z.infer<typeof brandSchema>;

/** A client's kit with what it has of the agency in place. */
export function settleBrand({ follows = [], ...own }: Brand, agency: AgencyBrand): Brand {
  const as = new Set(follows);
  const address = as.has('address') ? agency.address : own.address;
  const { address: _, typefaces: __, mailLook: ___, ...rest } = own;
  const { mailLook } = as.has('mail') ? agency : own;
  const typefaces = as.has('typefaces') ? agency.typefaces : own.typefaces;
  return {
    ...rest,
    ...(as.has('colours') && { main: agency.main, second: agency.second }),
    ...(typefaces && { typefaces }),
    ...(as.has('logo') && { logo: agency.logo ?? null, logoDark: agency.logoDark ?? null }),
    ...(mailLook && { mailLook }),
    ...(as.has('mail') && { mailHead: agency.mailHead ?? null }),
    ...(as.has('cover') && { cover: agency.cover ?? null }),
    ...(as.has('footer') && { footer: agency.footer }),
    ...(address !== undefined && address.trim() !== '' && { address }),
  };
}
