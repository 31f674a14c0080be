import type { ErrorReply, RouteName, Routes } from '@chronicon/core/contract';
import type { z } from 'zod';

/** A refusal of the server: a sentence, and sentences for single fields by their path. */
export class ApiError extends Error {
  constructor(
    readonly status: number,
    message: string,
    readonly fields: Record<string, string>,
    /** What the request is called in the server's log. */
    readonly request: string | null = null,
  ) {
    super(message);
  }
}

/** A line that broke, or a server that is away or busy: worth another try by itself. */
export const isPassing = (error: unknown): boolean =>
  !(error instanceof ApiError) ||
  error.status === 0 ||
  error.status >= 500 ||
  error.status === 408 ||
  error.status === 429;

/** Milliseconds until something is tried again that the line or the server lost: longer each time, up to the last. */
const AGAIN = [1_000, 2_000, 4_000, 8_000, 15_000, 30_000];

/** How long to wait after so many tries, from 0. */
export const againAfter = (tries: number): number => AGAIN[Math.min(tries, AGAIN.length - 1)]!;

export type Reply<R extends RouteName> = z.output<Routes[R]['reply']>;
export type Body<R extends RouteName> = z.input<Routes[R]['body']>;

export interface CallOptions<R extends RouteName> {
  params?: Record<string, string>;
  query?: Record<string, string | undefined>;
  body?: Body<R>;
  signal?: AbortSignal;
  /** Sent though the page is left. */
  outlives?: boolean;
}

let csrf = '';

/** The token that proves to the server that a request comes from this page; given with the session. */
export function setCsrf(token: string): void {
  csrf = token;
}

export function pathOf(name: string, params: Record<string, string> = {}): string {
  return name.split(' ')[1]!.replace(/:(\w+)/g, (_, key: string) => encodeURIComponent(params[key] ?? ''));
}

async function answerOf(response: Response): Promise<unknown> {
  const body: unknown = await response.json().catch(() => null);
  if (response.ok) return body;
  const error = body as ErrorReply | null;
  throw new ApiError(
    response.status,
    error?.message ?? `Server error (${response.status}).`,
    error?.fields ?? {},
    error?.request ?? null,
  );
}

async function send(path: string, init: RequestInit): Promise<unknown> {
  let response: Response;
  try {
    response = await fetch(path, init);
  } catch (error) {
    if (error instanceof DOMException && error.name === 'AbortError') throw error;
    throw new ApiError(0, 'Can’t reach the server. Your changes are safe – try again.', {});
  }
  return answerOf(response);
}

/** Calls one route of the API; names and types come from the contract. */
export async function call<R extends RouteName>(name: R, options: CallOptions<R> = {}): Promise<Reply<R>> {
  const method = name.split(' ')[0]!;
  const query = new URLSearchParams();
  for (const [key, value] of Object.entries(options.query ?? {})) if (value) query.set(key, value);
  const search = query.size > 0 ? `?${query}` : '';
  return send(pathOf(name, options.params) + search, {
    method,
    headers: { 'content-type': 'application/json', 'x-csrf-token': csrf },
    ...(method !== 'GET' && { body: JSON.stringify(options.body ?? {}) }),
    ...(options.signal && { signal: options.signal }),
    ...(options.outlives && { keepalive: true }),
  }) as Promise<Reply<R>>;
}

/** Sends a file as it is. */
export const upload = (path: string, file: File): Promise<unknown> =>
  send(path, {
    method: 'PUT',
    headers: { 'content-type': file.type || 'application/octet-stream', 'x-csrf-token': csrf },
    body: file,
  });
