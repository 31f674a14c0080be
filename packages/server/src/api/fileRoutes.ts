import { FILE_ROUTES, figuresQuery, MAKERS, type Role } from '@chronicon/core/contract';
import { escapeFor } from '@chronicon/core/report';
import express, { type Express, type NextFunction, type Request, type Response } from 'express';
import type { Session } from '../access/sessions.ts';
import { askFigures, figuresOf } from '../figures/ask.ts';
import { englishFor } from '../figures/english.ts';
import { formatterOf } from '../press/draw.ts';
import { LOGO_LIMIT, readLogo } from '../press/logo.ts';
import { LogoError } from '../press/svgLogo.ts';
import { TABLE_FORMATS } from '../press/tables/formats.ts';
import { tableOf } from '../press/tables/table.ts';
import { clientById, updateBrand } from '../store/clients.ts';
import { ordersOf } from '../store/editions.ts';
import { theClient, theEdition } from './access.ts';
import { describeClient } from './clients.ts';
import type { Api } from './context.ts';
import { openApi } from './openapi.ts';
import { atField, notFound } from './refusal.ts';

type FileRoute = keyof typeof FILE_ROUTES;
type FileHandler = (req: Request, res: Response, session: Session) => Promise<void>;

export const rolesOfFile = (route: FileRoute): readonly Role[] | null =>
  FILE_ROUTES[route] === 'makers' ? MAKERS : null;

const param = (req: Request, name: string): string => String(req.params[name]);

/** Doors whose bodies are files. `guard` lets nobody in without a session of the right role. */
export function addFileRoutes(
  app: Express,
  api: Api,
  guard: (route: FileRoute, handle: FileHandler) => (req: Request, res: Response, next: NextFunction) => void,
): void {
  const handlers: Record<FileRoute, FileHandler> = {
    'PUT /api/clients/:client/logo': async (req, res, { member }) => {
      const client = await theClient(api.store, member, param(req, 'client'));
      try {
        const logo = await readLogo(req.body as Buffer, api.files);
        await updateBrand(api.store, client.id, { ...client.brand, logo });
      } catch (error) {
        if (error instanceof LogoError) throw atField('logo', error.message);
        throw error;
      }
      res.json(await describeClient(api.store, client.id));
    },

    'GET /api/editions/:edition/pdf': async (req, res, { member }) => {
      const e = await theEdition(api.store, member, param(req, 'edition'));
      if (e.pdf === null) throw notFound('PDF');
      const client = (await clientById(api.store, e.client_id))!;
      const period = formatterOf(client.language, client.currency).range({ from: e.period_from!, to: e.period_to! });
      const name = escapeFor('filename', `${client.name} ${ordersOf(e).title} ${period}`);
      res.type('application/pdf');
      if (req.query.show === undefined) res.attachment(`${name}.pdf`);
      res.send(api.files.read(e.pdf));
    },

    'GET /api/clients/:client/pictures/:file': async (req, res, { member }) => {
      const { brand } = await theClient(api.store, member, param(req, 'client'));
      if (brand.logo?.kind !== 'image' || brand.logo.file !== param(req, 'file')) throw notFound('picture');
      res
        .type(brand.logo.type)
        .set('cache-control', 'private, max-age=31536000, immutable')
        .send(api.files.read(brand.logo.file));
    },

    'GET /api/clients/:client/figures/table': async (req, res, { member }) => {
      const client = await theClient(api.store, member, param(req, 'client'));
      const { as, ...asked } = req.query;
      const format = TABLE_FORMATS[String(as)];
      if (!format) throw atField('as', `Ask for one of ${Object.keys(TABLE_FORMATS).join(', ')}.`);
      const query = figuresQuery.safeParse(asked);
      if (!query.success) throw atField(String(query.error.issues[0]!.path[0]), query.error.issues[0]!.message);
      const figures = await askFigures(api, await figuresOf(api, client), query.data);
      const { words } = englishFor(client);
      const filter = query.data.filter.map(
        (f) => `${words.dimensions[f.dimension] ?? f.dimension} ${f.except ? 'is not' : 'is'} ${f.values.join(', ')}`,
      );
      const table = tableOf(figures, {
        client: client.name,
        currency: client.currency,
        filter,
        reasons: words.reasons,
      });
      const name = escapeFor('filename', `${client.name} ${figures.metrics[0]!.label} ${figures.period.label}`);
      res.type(format.type).attachment(`${name}.${format.extension}`);
      res.send(await format.write(table, api.clock.now()));
    },

    'GET /api/openapi.json': async (_req, res) => {
      res.json(openApi());
    },
  };
  for (const [route, handle] of Object.entries(handlers) as [FileRoute, FileHandler][]) {
    const [method, path] = route.split(' ') as [string, string];
    const wrapped = guard(route, handle);
    if (method === 'PUT') app.put(path, express.raw({ type: () => true, limit: LOGO_LIMIT + 1024 }), wrapped);
    else app.get(path, wrapped);
  }
}
