import { BRAND_PICTURES, type BrandPicture, TYPEFACE_WEIGHTS } from '@chronicon/core/contract';
import { type AgencyBrand, type Logo, settleBrand } from '@chronicon/core/report';
import type { Request } from 'express';
import { z } from 'zod';
import { atField, notFound } from '../../platform/refusal.ts';
import { updateBrand } from '../../store/clients.ts';
import { itemPictureType } from '../../store/itemPictures.ts';
import { agencyOf } from '../../store/members.ts';
import { addPicture, pictureType } from '../../store/pictures.ts';
import { isTypefaceFile } from '../../store/typefaces.ts';
import { LogoError } from '../../workers/svgLogo.ts';
import { theClient } from '../access.ts';
import { setAgencyPicture } from '../agency.ts';
import { changing } from '../changing.ts';
import { describeClient } from '../clients.ts';
import type { Api } from '../context.ts';
import { takeTypeface } from '../typefaces.ts';
import { type FileHandlers, param } from './fileHandlers.ts';

/** The kind of a file that is a picture of a kit; null for one that is none. */
const typeIn = ({ logo, logoDark, cover, mailHead }: AgencyBrand, file: string): string | null =>
  [logo, logoDark, cover, mailHead].flatMap((p) => (p?.kind === 'image' && p.file === file ? p.type : []))[0] ?? null;

/** @throws Refusal at `logo`, with a sentence for the person who brought the picture */
async function readBrandPicture(api: Api, req: Request): Promise<{ as: BrandPicture; picture: Logo }> {
  const asked = z.enum(BRAND_PICTURES).safeParse(req.query.as ?? 'logo');
  if (!asked.success) throw atField('as', `Upload one of ${BRAND_PICTURES.join(', ')}.`);
  try {
    if (asked.data === 'mailHead')
      return { as: asked.data, picture: await api.pictures.readMailHead(req.body as Buffer, api.files) };
    const picture = await api.pictures.readLogo(req.body as Buffer, api.files);
    if (asked.data === 'cover' && picture.kind !== 'image') throw new LogoError('Cover pictures must be PNG or JPEG.');
    return { as: asked.data, picture };
  } catch (error) {
    if (error instanceof LogoError) throw atField('logo', error.message);
    throw error;
  }
}

/** Pictures and typefaces of the agency’s kit and of its clients’. */
export const kitFiles = (
  api: Api,
): FileHandlers<
  | 'PUT /api/clients/:client/logo'
  | 'PUT /api/agency/logo'
  | 'GET /api/agency/pictures/:file'
  | 'GET /api/clients/:client/pictures/:file'
  | 'PUT /api/clients/:client/pictures'
  | 'PUT /api/typefaces'
  | 'GET /api/typefaces/:file'
> => ({
  'PUT /api/clients/:client/logo': async (req, res, session) => {
    const client = await theClient(api.store, session.member, param(req, 'client'));
    const { as, picture } = await readBrandPicture(api, req);
    const brand = { ...client.brand, [as]: picture };
    await changing(api, session, 'brand.changed', client.id, (tx, at) => updateBrand(tx, client.id, brand, at));
    res.json(await describeClient(api.store, client.id));
  },

  'PUT /api/agency/logo': async (req, res, session) => {
    const { as, picture } = await readBrandPicture(api, req);
    res.json(await setAgencyPicture(api, session, as, picture));
  },

  'GET /api/agency/pictures/:file': async (req, res) => {
    const file = param(req, 'file');
    const { brand } = (await agencyOf(api.store))!.settings;
    const type = typeIn(brand, file);
    if (type === null) throw notFound('picture');
    res.type(type).send(api.files.read(file));
  },

  'GET /api/clients/:client/pictures/:file': async (req, res, { member }) => {
    const { id, brand } = await theClient(api.store, member, param(req, 'client'));
    const file = param(req, 'file');
    const drawn = settleBrand(brand, (await agencyOf(api.store))!.settings.brand);
    const type =
      typeIn(brand, file) ??
      typeIn(drawn, file) ??
      (await pictureType(api.store, id, file)) ??
      (await itemPictureType(api.store, id, file));
    if (type === null) throw notFound('picture');
    res.type(type).send(api.files.read(file));
  },

  'PUT /api/clients/:client/pictures': async (req, res, { member }) => {
    const client = await theClient(api.store, member, param(req, 'client'));
    try {
      const picture = await api.pictures.readLogo(req.body as Buffer, api.files);
      if (picture.kind === 'image') await addPicture(api.store, client.id, picture.file, picture.type);
      res.json(picture);
    } catch (error) {
      if (error instanceof LogoError) throw atField('picture', error.message);
      throw error;
    }
  },

  'PUT /api/typefaces': async (req, res, session) => {
    const asked = z
      .object({
        as: z.enum(TYPEFACE_WEIGHTS).default('regular'),
        of: z.string().optional(),
        name: z.string().default(''),
      })
      .safeParse(req.query);
    if (!asked.success || (asked.data.as === 'bold') !== (asked.data.of !== undefined))
      throw atField('as', 'Upload a font, or the bold file of an existing font.');
    try {
      res.json(await takeTypeface(api, session, req.body as Buffer, asked.data.name, asked.data.of ?? null));
    } catch (error) {
      if (error instanceof LogoError) throw atField('typeface', error.message);
      throw error;
    }
  },

  'GET /api/typefaces/:file': async (req, res) => {
    const file = param(req, 'file');
    if (!(await isTypefaceFile(api.store, file))) throw notFound('typeface');
    res.type('font/ttf').send(api.files.read(file));
  },
});
