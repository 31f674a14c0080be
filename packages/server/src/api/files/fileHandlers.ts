import type { FILE_ROUTES } from '@chronicon/core/contract';
import type { Request, Response } from 'express';
import type { Session } from '../../access/sessions.ts';

export type FileRoute = keyof typeof FILE_ROUTES;

/** What answers routes whose bodies are files; those that a secret opens have no session. */
export type FileHandlers<R extends FileRoute> = {
  [Route in R]: (
    req: Request,
    res: Response,
    session: (typeof FILE_ROUTES)[Route] extends 'secret' ? null : Session,
  ) => Promise<void>;
};

export const param = (req: Request, name: string): string => String(req.params[name]);
