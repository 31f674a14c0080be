import { join } from 'node:path';
import { ownOf } from '@chronicon/core/bounds';
import {
  BRAND_PICTURES,
  type BrandPicture,
  FILE_ROUTES,
  figuresQuery,
  look,
  MAKERS,
  type Role,
  routes,
  TYPEFACE_WEIGHTS,
} from '@chronicon/core/contract';
import { type AgencyBrand, fileNameOf, filterWords, type Logo, settleBrand } from '@chronicon/core/report';
import { formatterOf } from '@chronicon/core/words';
import express, { type Express, type NextFunction, type Request, type Response } from 'express';
import { z } from 'zod';
import type { Session } from '../access/sessions.ts';
import { figuresOf, viewOf } from '../figures/ask.ts';
import { englishFor } from '../figures/english.ts';
import { atField, notFound, Refusal } from '../platform/refusal.ts';
import { TABLE_FORMATS } from '../render/tables/formats.ts';
import { pdfOf } from '../scheduler/editionFiles.ts';
import { clientById, updateBrand } from '../store/clients.ts';
import { ordersOf } from '../store/editions.ts';
import { feedByDropKey } from '../store/feeds.ts';
import { importById } from '../store/imports.ts';
import { itemPictureType } from '../store/itemPictures.ts';
import { agencyOf } from '../store/members.ts';
import { addPicture, pictureType } from '../store/pictures.ts';
import { segmentsOf } from '../store/segments.ts';
import { isTypefaceFile } from '../store/typefaces.ts';
import { unreadMail } from '../store/unreadMails.ts';
import { picturesAt } from '../workers/itemPictures.ts';
import { LOGO_LIMIT } from '../workers/pictures.ts';
import { LogoError } from '../workers/svgLogo.ts';
import { theClient, theEdition, theFeed, theReport } from './access.ts';
import { setAgencyPicture } from './agency.ts';
import { createCalendarAnswers } from './calendarAnswers.ts';
import { memberOfCalendar } from './calendarLink.ts';
import { changing } from './changing.ts';
import { describeClient } from './clients.ts';
import type { Api } from './context.ts';
import { describeImport } from './imports.ts';
import { lookAt, orderOfLook, withClient } from './looking.ts';
import { mailFileOf, takeMailFile } from './mailFiles.ts';
import { openApi } from './openapi.ts';
import { sendFile } from './sendFile.ts';
import { takeTypeface } from './typefaces.ts';
import { dropHash, takeUpload } from './uploads.ts';

type FileRoute = keyof typeof FILE_ROUTES;
type FileHandler<R extends FileRoute = FileRoute> = (
  req: Request,
  res: Response,
  session: (typeof FILE_ROUTES)[R] extends 'secret' ? null : Session,
) => Promise<void>;

export const rolesOfFile = (route: FileRoute): readonly Role[] | null =>
  FILE_ROUTES[route] === 'makers' ? MAKERS : FILE_ROUTES[route] === 'owners' ? ['owner'] : null;

/** Files of any size, taken as they come. */
const STREAMED = new Set<FileRoute>(['PUT /api/clients/:client/imports', 'PUT /api/drop/:key/:name']);

const picture = express.raw({ type: () => true, limit: LOGO_LIMIT + 1024 });

/** The kind of a file that is a picture of a kit; null for one that is none. */
const typeIn = ({ logo, logoDark, cover, mailHead }: AgencyBrand, file: string): string | null =>
  [logo, logoDark, cover, mailHead].flatMap((p) => (p?.kind === 'image' && p.file === file ? p.type : []))[0] ?? null;

const param = (req: Request, name: string): string => String(req.params[name]);

/** Routes whose bodies are files. `guard` lets nobody in without a session of the right role. */
export function addFileRoutes(
  app: Express,
  api: Api,
  guard: (
    route: FileRoute,
    handle: (req: Request, res: Response, session: Session | null) => Promise<void>,
  ) => (req: Request, res: Response, next: NextFunction) => void,
): void {
  /** @throws Refusal at `logo` in words for whoever brought it */
  const readBrandPicture = async (req: Request): Promise<{ as: BrandPicture; picture: Logo }> => {
    const asked = z.enum(BRAND_PICTURES).safeParse(req.query.as ?? 'logo');
    if (!asked.success) throw atField('as', `Bring one of ${BRAND_PICTURES.join(', ')}.`);
    try {
      if (asked.data === 'mailHead')
        return { as: asked.data, picture: await api.pictures.readMailHead(req.body as Buffer, api.files) };
      const picture = await api.pictures.readLogo(req.body as Buffer, api.files);
      if (asked.data === 'cover' && picture.kind !== 'image')
        throw new LogoError('A cover takes a photograph or another picture: PNG or JPEG.');
      return { as: asked.data, picture };
    } catch (error) {
      if (error instanceof LogoError) throw atField('logo', error.message);
      throw error;
    }
  };
  const calendarFor = createCalendarAnswers(api);
  const handlers: { [R in FileRoute]: FileHandler<R> } = {
    'PUT /api/clients/:client/logo': async (req, res, session) => {
      const client = await theClient(api.store, session.member, param(req, 'client'));
      const { as, picture } = await readBrandPicture(req);
      const brand = { ...client.brand, [as]: picture };
      await changing(api, session, 'brand.changed', client.id, (tx, at) => updateBrand(tx, client.id, brand, at));
      res.json(await describeClient(api.store, client.id));
    },

    'PUT /api/agency/logo': async (req, res, session) => {
      const { as, picture } = await readBrandPicture(req);
      res.json(await setAgencyPicture(api, session, as, picture));
    },

    'GET /api/agency/pictures/:file': async (req, res) => {
      const file = param(req, 'file');
      const { brand } = (await agencyOf(api.store))!.settings;
      const type = typeIn(brand, file);
      if (type === null) throw notFound('picture');
      res.type(type).send(api.files.read(file));
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
        throw atField('as', 'Bring a typeface, or the bold one of a typeface that is named.');
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

    'PUT /api/clients/:client/mail-files': async (req, res, { member }) => {
      const client = await theClient(api.store, member, param(req, 'client'));
      res.json(await takeMailFile(api, client.id, req.body as Buffer, String(req.query.name ?? '')));
    },

    'GET /api/deliveries/:delivery/mail': async (req, res, { member }) => {
      const found = await mailFileOf(api, member, param(req, 'delivery'));
      res.type('message/rfc822').attachment(found.name).send(found.mime);
    },

    'GET /api/agency/unread-mails/:mail': async (req, res) => {
      const raw = await unreadMail(api.store, param(req, 'mail'));
      if (!raw) throw notFound('mail');
      res.type('message/rfc822').attachment('mail that came back.eml').send(raw);
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

    'GET /api/editions/:edition/pdf': async (req, res, { member }) => {
      const e = await theEdition(api.store, member, param(req, 'edition'));
      if (e.pdf === null) throw notFound('PDF');
      const client = (await clientById(api.store, e.client_id))!;
      const period = formatterOf(client.language, client.currency).range({ from: e.period_from!, to: e.period_to! });
      const kept = await pdfOf(api, e);
      if (!kept.ok) throw new Refusal(503, kept.reason);
      res.type('application/pdf');
      if (req.query.show === undefined) res.attachment(fileNameOf([client.name, ordersOf(e).title, period], 'pdf'));
      res.send(kept.pdf);
    },

    'GET /api/reports/:report/pdf': async (req, res, { member }) => {
      const report = await theReport(api.store, member, param(req, 'report'));
      const client = await withClient(api, report);
      const { schedule, nominal, from, to } = req.query;
      const asked = look.safeParse(
        schedule !== undefined
          ? { kind: 'run', schedule, nominal }
          : from !== undefined
            ? { kind: 'dates', from, to }
            : { kind: 'own' },
      );
      if (!asked.success) throw atField('look', asked.error.issues[0]!.message);
      const order = await orderOfLook(api, report, client, await lookAt(api, report, client, asked.data));
      const pdf = await api.workers.paint(order, api.clock.now(), (addresses) => picturesAt(api, client.id, addresses));
      const period = formatterOf(client.language, client.currency).range(order.period);
      res.type('application/pdf');
      if (req.query.show === undefined) res.attachment(fileNameOf([client.name, report.title, period], 'pdf'));
      res.send(Buffer.from(pdf));
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

    'GET /api/clients/:client/figures/table': async (req, res, { member }) => {
      const client = await theClient(api.store, member, param(req, 'client'));
      const { as, ...asked } = req.query;
      const format = ownOf(TABLE_FORMATS, String(as));
      if (!format) throw atField('as', `Ask for one of ${Object.keys(TABLE_FORMATS).join(', ')}.`);
      const query = figuresQuery.safeParse(asked);
      if (!query.success) throw atField(String(query.error.issues[0]!.path[0]), query.error.issues[0]!.message);
      const figures = await figuresOf(api, client);
      const view = await viewOf(api, figures, query.data);
      const english = englishFor(client);
      const { words } = english;
      const segments = await segmentsOf(api.store, client.id);
      const filter = query.data.filter.map((part) => filterWords([part], segments, english));
      const names = { agency: (await agencyOf(api.store))?.name ?? '', client: client.name, filter };
      const file = await api.workers.table({ view, names, as: String(as), created: api.clock.now() });
      const label = figures.knowledge.book.labelOf(query.data.metrics[0]!, words.metrics);
      const name = fileNameOf([client.name, label, english.shortRange(view.plan.period)], format.extension);
      res.type(format.type).attachment(name).send(file);
    },

    'PUT /api/clients/:client/imports': async (req, res, { member }) => {
      const client = await theClient(api.store, member, param(req, 'client'));
      const feed = req.query.feed === undefined ? null : String(req.query.feed);
      if (feed !== null) await theFeed(api.store, member, client.id, feed);
      const about = { clientId: client.id, feedId: feed, source: 'dropped', madeBy: member.id } as const;
      const taken = await takeUpload(api, req, { ...about, name: req.query.name });
      res.json(await describeImport(api, taken, null));
    },

    'GET /api/clients/:client/imports/:import/rejects': async (req, res, { member }) => {
      await theClient(api.store, member, param(req, 'client'));
      const found = await importById(api.store, param(req, 'import'));
      if (found?.clientId !== param(req, 'client') || found.rejects === null) throw notFound('list');
      res.type('text/csv').attachment(fileNameOf(['set aside from', found.fileName], 'csv'));
      await sendFile(res, join(api.config.data, found.rejects), 'list');
    },

    'PUT /api/drop/:key/:name': async (req, res) => {
      const feed = await feedByDropKey(api.store, dropHash(param(req, 'key')));
      if (!feed) throw new Refusal(401, 'This address is not valid, or no longer.');
      const about = { clientId: feed.client_id, feedId: feed.id, source: 'put', madeBy: null } as const;
      const taken = await takeUpload(api, req, { ...about, name: param(req, 'name') });
      const { state, problem } = taken;
      if (state === 'refused') throw new Refusal(422, problem ?? 'The file could not be read.');
      const said = state === 'asking' ? 'A person has to look at it first.' : 'It is being imported.';
      res.status(202).json({ import: taken.id, message: said });
    },

    'GET /api/look-ahead/table': async (req, res, { member }) => {
      const asked = routes['GET /api/look-ahead'].query.safeParse(req.query);
      if (!asked.success) throw atField(String(asked.error.issues[0]!.path[0]), asked.error.issues[0]!.message);
      const { from, to } = asked.data;
      const file = await api.reads.run({ name: 'look-ahead.csv', query: asked.data, member, now: api.clock.now() });
      res
        .type('text/csv')
        .attachment(fileNameOf(['What goes out', from, to], 'csv'))
        .send(Buffer.from(file));
    },

    'GET /api/calendar/:key': async (req, res) => {
      const member = await memberOfCalendar(api.store, param(req, 'key').replace(/\.ics$/, ''));
      if (!member) throw new Refusal(401, 'This address is not valid, or no longer.');
      res
        .set('cache-control', 'private, max-age=300')
        .type('text/calendar')
        .send(await calendarFor(member));
    },

    'GET /api/openapi.json': async (_req, res) => {
      res.json(openApi());
    },
  };
  for (const [route, handle] of Object.entries(handlers) as [FileRoute, unknown][]) {
    const [method, path] = route.split(' ') as [string, string];
    const whole = handle as Parameters<typeof guard>[1];
    if (method !== 'PUT') app.get(path, guard(route, whole));
    else if (STREAMED.has(route)) app.put(path, guard(route, whole));
    else {
      // A body is taken once the route has said yes.
      app.put(
        path,
        guard(route, async (req, res, session) => {
          await new Promise<void>((resolve, reject) => {
            picture(req, res, (error?: unknown) => (error ? reject(error) : resolve()));
          });
          await whole(req, res, session);
        }),
      );
    }
  }
}
