import { FILE_ROUTES, MAKERS, type Role } from '@chronicon/core/contract';
import express, { type Express, type NextFunction, type Request, type Response } from 'express';
import type { Session } from '../access/sessions.ts';
import { LOGO_LIMIT } from '../workers/pictures.ts';
import type { Api } from './context.ts';
import { drawnFiles } from './files/drawnFiles.ts';
import type { FileHandlers, FileRoute } from './files/fileHandlers.ts';
import { importFiles } from './files/importFiles.ts';
import { kitFiles } from './files/kitFiles.ts';
import { mailFileRoutes } from './files/mailFileRoutes.ts';
import { planFiles } from './files/planFiles.ts';
import { openApi } from './openapi.ts';

export const rolesOfFile = (route: FileRoute): readonly Role[] | null =>
  FILE_ROUTES[route] === 'makers' ? MAKERS : FILE_ROUTES[route] === 'owners' ? ['owner'] : null;

/** Files of any size, taken as they come. */
const STREAMED = new Set<FileRoute>(['PUT /api/clients/:client/imports', 'PUT /api/drop/:key/:name']);

const picture = express.raw({ type: () => true, limit: LOGO_LIMIT + 1024 });

/** Routes whose bodies are files. `guard` lets nobody in without a session of the right role. */
export function addFileRoutes(
  app: Express,
  api: Api,
  guard: (
    route: FileRoute,
    handle: (req: Request, res: Response, session: Session | null) => Promise<void>,
  ) => (req: Request, res: Response, next: NextFunction) => void,
): void {
  const handlers: FileHandlers<FileRoute> = {
    ...kitFiles(api),
    ...mailFileRoutes(api),
    ...drawnFiles(api),
    ...planFiles(api),
    ...importFiles(api),
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
