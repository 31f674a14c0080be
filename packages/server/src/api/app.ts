import { randomBytes } from 'node:crypto';
import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { BODY_BYTES } from '@chronicon/core/bounds';
import { FILE_ROUTES, type Role, type Route, type RouteName, routes } from '@chronicon/core/contract';
import compression from 'compression';
import { parse as parseCookies, serialize as serializeCookie } from 'cookie';
import express, { type Express, type NextFunction, type Request, type Response } from 'express';
import { rateLimit } from 'express-rate-limit';
import helmet from 'helmet';
import { pinoHttp } from 'pino-http';
import type { z } from 'zod';
import { type Session, sessionOf } from '../access/sessions.ts';
import { askedBy, GoneError } from '../platform/asking.ts';
import { BudgetError } from '../platform/budget.ts';
import { Refusal } from '../platform/refusal.ts';
import { countingStatements } from '../platform/statements.ts';
import { faultOf } from '../store/faults.ts';
import { LOGO_LIMIT } from '../workers/pictures.ts';
import { Written } from '../workers/written.ts';
import { agencyHandlers } from './agency.ts';
import { allScheduleHandlers } from './allSchedules.ts';
import { almanacHandlers } from './almanac.ts';
import { blockHandlers } from './blocks.ts';
import { calendarLinkHandlers } from './calendarLink.ts';
import { checkReply } from './checkReply.ts';
import { clientImportHandlers } from './clientImport.ts';
import { clientRecordHandlers } from './clientRecord.ts';
import { clientHandlers } from './clients.ts';
import { composingHandlers } from './composing.ts';
import { connectionHandlers } from './connections.ts';
import { contactHandlers } from './contacts.ts';
import type { Api, Handlers } from './context.ts';
import { deskHandlers } from './desk.ts';
import { editionHandlers } from './editions.ts';
import { excludedDaysHandlers } from './excludedDays.ts';
import { feedHandlers } from './feeds.ts';
import { figuresHandlers } from './figures.ts';
import { addFileRoutes, rolesOfFile } from './fileRoutes.ts';
import { firstHandlers } from './first.ts';
import { galleryHandlers } from './gallery.ts';
import { importHandlers } from './imports.ts';
import { linkHandlers } from './links.ts';
import { mailHandlers } from './mails.ts';
import { manyHandlers } from './manySchedules.ts';
import { meHandlers } from './me.ts';
import { memberReadHandlers } from './memberRows.ts';
import { metricHandlers } from './metrics.ts';
import { peopleHandlers } from './people.ts';
import { isRead } from './reads/readJob.ts';
import { removeReportHandlers } from './removeReport.ts';
import { reportHandlers } from './reports.ts';
import { scheduleDraftHandlers } from './scheduleDrafts.ts';
import { scheduleHandlers } from './schedules.ts';
import { segmentHandlers } from './segments.ts';
import { sendingHandlers } from './sending.ts';
import { seriesHandlers } from './series.ts';
import { sessionHandlers } from './session.ts';
import { shownPath } from './shownPath.ts';
import { targetHandlers } from './targets.ts';
import { templateHandlers } from './templates.ts';
import { typedHandlers } from './typed.ts';
import { typefaceHandlers } from './typefaces.ts';
import { addUnsubscribe } from './unsubscribe.ts';
import { Unwell } from './unwell.ts';
import { zoneMoveHandlers } from './zoneMoves.ts';

/** Wrong keys of file drops that one address may try in a minute; right ones are not counted. */
const DROPS = { windowMs: 60_000, limit: 60 };
/** Calendars that one address may ask for in a minute: programs look a few times an hour. */
const CALENDARS = { windowMs: 60_000, limit: 30 };
/** Milliseconds in which a body of JSON has to be there. */
const BODY_TIME = 20_000;
/** Bytes of a body that comes without a session. */
const OPEN_BODY = 8 * 1024;

/** Bound to this host and to TLS by its name alone (RFC 6265bis §4.1.3.2), where the line is secure. */
const cookieName = (what: 'session' | 'browser', secure: boolean): string =>
  `${secure ? '__Host-' : ''}chronicon_${what}`;
/** Seconds for which a browser is told from others. */
const BROWSER_LIFE = 400 * 86_400;

/** The compiler holds this to the table: a route without a handler, or a handler without a route, does not build. */
const handlers: Handlers<RouteName> = {
  ...sessionHandlers,
  ...meHandlers,
  ...firstHandlers,
  ...agencyHandlers,
  ...peopleHandlers,
  ...linkHandlers,
  ...clientHandlers,
  ...clientRecordHandlers,
  ...clientImportHandlers,
  ...contactHandlers,
  ...feedHandlers,
  ...connectionHandlers,
  ...importHandlers,
  ...typedHandlers,
  ...typefaceHandlers,
  ...figuresHandlers,
  ...metricHandlers,
  ...excludedDaysHandlers,
  ...removeReportHandlers,
  ...scheduleDraftHandlers,
  ...segmentHandlers,
  ...targetHandlers,
  ...blockHandlers,
  ...galleryHandlers,
  ...reportHandlers,
  ...composingHandlers,
  ...templateHandlers,
  ...scheduleHandlers,
  ...mailHandlers,
  ...almanacHandlers,
  ...allScheduleHandlers,
  ...memberReadHandlers,
  ...manyHandlers,
  ...calendarLinkHandlers,
  ...zoneMoveHandlers,
  ...seriesHandlers,
  ...editionHandlers,
  ...deskHandlers,
  ...sendingHandlers,
};

/** What a member reaches who has to set up a second factor first. */
const OWN_SIGN_IN = /^\/api\/(session(\/(factor(\/begin)?|password))?|me)$/;

/** What a request is called in replies, errors and logs: whoever asks for help can say which it was. */
const REQUEST_ID = 'x-request-id';
function requestId(res: { getHeader(name: string): unknown; setHeader(name: string, value: string): unknown }): string {
  const known = res.getHeader(REQUEST_ID);
  if (typeof known === 'string') return known;
  const id = randomBytes(6).toString('hex');
  res.setHeader(REQUEST_ID, id);
  return id;
}

/** A field's path and the first thing wrong with it, for every field. */
function fieldsOf(error: z.ZodError): Record<string, string> {
  const fields: Record<string, string> = {};
  for (const issue of error.issues) fields[issue.path.join('.')] ??= issue.message;
  return fields;
}

const isWrite = (method: string) => method !== 'GET' && method !== 'HEAD';

/** Refuses requests that another site's page sent: by Origin where there is one, by the session's own token always. */
function checkOrigin(req: Request): void {
  const origin = req.get('origin');
  const ours = origin === undefined || (URL.canParse(origin) && new URL(origin).host === req.get('host'));
  if (isWrite(req.method) && !ours) {
    throw new Refusal(403, 'Request blocked: it came from another site.');
  }
}

function checkCsrf(req: Request, session: Session): void {
  if (isWrite(req.method) && req.get('x-csrf-token') !== session.csrf) {
    throw new Refusal(403, 'This page is out of date. Reload it.');
  }
}

function allow(roles: readonly Role[] | null, session: Session): void {
  if (roles && !roles.includes(session.member.role)) {
    throw new Refusal(403, `Your role (${session.member.role}) can’t do this. Ask a manager or owner.`);
  }
}

/** The HTTP side of the server: every route of the contract, and the built interface. */
export function createApp(api: Api): Express {
  const app = express();
  app.disable('x-powered-by');
  const { trustProxy, hsts, mode } = api.config;
  if (trustProxy !== null) app.set('trust proxy', trustProxy);
  const secure = mode === 'production';
  const [COOKIE, BROWSER] = [cookieName('session', secure), cookieName('browser', secure)];
  app.use(
    helmet({
      contentSecurityPolicy: {
        directives: {
          defaultSrc: ["'self'"],
          scriptSrc: ["'self'"],
          // The component library sets sizes by style attributes.
          styleSrc: ["'self'", "'unsafe-inline'"],
          imgSrc: ["'self'", 'data:', 'blob:'],
          frameAncestors: ["'none'"],
          upgradeInsecureRequests: null,
        },
      },
      strictTransportSecurity: hsts === null ? false : { maxAge: hsts, includeSubDomains: false },
    }),
  );
  app.use(compression());
  if (api.config.log !== 'silent') {
    const serializers = {
      req: (req: { url: string }) => ({ ...req, url: shownPath(req.url), query: undefined, params: undefined }),
    };
    const redact = ['req.headers', 'res.headers'];
    app.use('/api', pinoHttp({ logger: api.log, redact, serializers, genReqId: (_req, res) => requestId(res) }));
  }
  // What stands behind a session is kept by no cache, whatever its kind.
  app.use('/api', (_req, res, next) => {
    requestId(res);
    res.set('cache-control', 'no-store');
    next();
  });

  const cookieOf = (req: Request, name: string): string | null => parseCookies(req.headers.cookie ?? '')[name] ?? null;
  const tokenOf = (req: Request): string | null => cookieOf(req, COOKIE);
  const options = { httpOnly: true, sameSite: 'strict', path: '/', secure } as const;
  const setCookie = (res: Response) => (token: string | null) => {
    res.append(
      'set-cookie',
      serializeCookie(COOKIE, token ?? '', token === null ? { ...options, maxAge: 0 } : options),
    );
  };
  const setBrowser = (res: Response) => (token: string) => {
    res.append('set-cookie', serializeCookie(BROWSER, token, { ...options, maxAge: BROWSER_LIFE }));
  };
  const enter = async (req: Request, roles: readonly Role[] | null): Promise<Session> => {
    const token = tokenOf(req);
    const session = token ? await sessionOf(api.store, token, api.clock.now()) : null;
    if (!session) throw new Refusal(401, 'Sign in first.');
    checkCsrf(req, session);
    if (session.mustSetUpFactor && !OWN_SIGN_IN.test(req.path)) {
      throw new Refusal(403, 'Your role requires two-factor authentication. Set it up under Your account.');
    }
    allow(roles, session);
    return session;
  };

  app.use(
    ['/api/drop', '/api/calendar'],
    rateLimit({
      ...DROPS,
      skipSuccessfulRequests: true,
      requestWasSuccessful: (_req, res) => res.statusCode !== 401,
      handler: (_q, _s, next) => next(new Refusal(429, 'Too many invalid keys. Try again in a minute.')),
    }),
  );
  app.use(
    '/api/calendar',
    rateLimit({ ...CALENDARS, handler: (_q, _s, next) => next(new Refusal(429, 'Too many requests. Wait a minute.')) }),
  );
  addFileRoutes(app, api, (route, handle) => (req, res, next) => {
    const run = async () => {
      // An address that is a secret is asked for nothing else.
      if (FILE_ROUTES[route] === 'secret') return handle(req, res, null);
      checkOrigin(req);
      const session = await enter(req, rolesOfFile(route));
      await askedBy(session.member.id, () => handle(req, res, session));
    };
    run().catch(next);
  });

  const bodies = { open: express.json({ limit: OPEN_BODY }), member: express.json({ limit: BODY_BYTES }) };
  /** Read once the route has said yes, and not for ever. */
  const readBody = (req: Request, res: Response, kind: keyof typeof bodies): Promise<void> =>
    new Promise((resolve, reject) => {
      const timer = setTimeout(() => {
        reject(new Refusal(408, 'The request was interrupted. Try again.'));
      }, BODY_TIME);
      bodies[kind](req, res, (error?: unknown) => {
        clearTimeout(timer);
        if (error) reject(error);
        else resolve();
      });
    });

  for (const [name, route] of Object.entries(routes) as [RouteName, Route][]) {
    const [method, path] = name.split(' ') as [string, string];
    const handle = handlers[name] as (request: unknown) => Promise<unknown>;
    const serve = async (req: Request, res: Response): Promise<void> => {
      checkOrigin(req);
      const session = route.roles === 'open' ? null : await enter(req, route.roles);
      await readBody(req, res, session ? 'member' : 'open');
      const body = route.body.safeParse(req.body ?? {});
      const query = route.query.safeParse(req.query);
      if (!body.success || !query.success) {
        const fields = fieldsOf((body.error ?? query.error)!);
        throw new Refusal(422, Object.values(fields)[0] ?? 'Not found.', fields);
      }
      const cookie = {
        token: tokenOf(req),
        browser: cookieOf(req, BROWSER),
        set: setCookie(res),
        setBrowser: setBrowser(res),
      };
      const [address, agent] = [req.ip ?? '', req.get('user-agent') ?? ''];
      const request = { api, params: req.params, body: body.data, query: query.data, session, cookie, address, agent };
      const work = () =>
        isRead(name) && session
          ? api.reads
              .run({ name, query: query.data, member: session.member, now: api.clock.now() })
              .then((bytes) => new Written(bytes))
          : handle(request);
      const gone = new AbortController();
      res.once('close', () => gone.abort());
      const answer = () => (session ? askedBy(session.member.id, work, gone.signal) : work());
      const { result: reply, statements } = await countingStatements(() =>
        // What is looked at comes first; who has something done waits for it in its turn.
        method === 'GET' ? api.precedence.first(answer) : answer(),
      );
      if (mode !== 'production') res.set('x-statements', String(statements));
      if (mode === 'test') checkReply(name, reply);
      if (reply instanceof Unwell) res.status(503).json(reply.body);
      else if (reply instanceof Written) res.type('json').send(reply.bytes);
      else res.json(reply);
    };
    const verb = method.toLowerCase() as 'get' | 'post' | 'put' | 'delete';
    app[verb](path, (req, res, next) => {
      serve(req, res).catch(next);
    });
  }
  // Whatever is not in the table is not there; and nobody learns that without a session.
  app.use('/api', (req, _res, next) => {
    enter(req, null).then(() => next(new Refusal(404, 'Not found.')), next);
  });

  addUnsubscribe(app, api);
  serveInterface(app, api.config.web);

  app.use((error: unknown, req: Request, res: Response, _next: NextFunction) => {
    if (error instanceof GoneError) {
      res.destroy();
      return;
    }
    const refusal = asRefusal(error);
    const request = requestId(res);
    if (refusal.status >= 500) {
      api.log.error({ err: error, path: shownPath(req.path), request }, 'request failed');
    }
    const fault = faultOf(error);
    if (fault && fault.cause !== 'busy') api.health.met(fault);
    if (res.headersSent) {
      res.destroy();
      return;
    }
    // What is still being sent is not read to its end.
    if (!req.complete) res.set('connection', 'close');
    const fields = Object.keys(refusal.fields).length > 0 ? { fields: refusal.fields } : {};
    res.status(refusal.status).json({ message: refusal.message, ...fields, request });
  });
  return app;
}

function asRefusal(error: unknown): Refusal {
  if (error instanceof Refusal) return error;
  const { type, limit = 0 } = error as { type?: string; limit?: number };
  if (type === 'entity.too.large') {
    const tooLarge = `Larger than ${Math.floor(limit / 1024 / 1024)} MB.`;
    return new Refusal(413, tooLarge, limit > LOGO_LIMIT ? { logo: tooLarge } : {});
  }
  if (type === 'entity.parse.failed') return new Refusal(400, 'The request is not valid JSON.');
  if (error instanceof BudgetError) {
    return new Refusal(503, `Timed out after ${error.seconds} seconds. Reduce blocks, rows or years.`);
  }
  const fault = faultOf(error);
  if (fault) return new Refusal(503, `${fault.reason} ${fault.mend} Nothing was changed.`);
  const { status } = error as { status?: number };
  if (status !== undefined && status >= 400 && status < 500) return new Refusal(status, 'Invalid request.');
  return new Refusal(500, 'Server error. Nothing was changed – try again.');
}

/** The built interface: named files for ever, the page itself never from a cache. */
function serveInterface(app: Express, folder: string | null): void {
  if (!folder || !existsSync(join(folder, 'index.html'))) return;
  const page = readFileSync(join(folder, 'index.html'));
  app.use('/assets', express.static(join(folder, 'assets'), { immutable: true, maxAge: '1y' }));
  app.use(express.static(folder, { index: false }));
  app.get('/{*any}', (_req, res) => {
    res.type('html').set('cache-control', 'no-cache').send(page);
  });
}
