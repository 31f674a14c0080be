import { type RouteName, routes } from '@chronicon/core/contract';
import type { z } from 'zod';
import { Written } from '../workers/written.ts';
import { Unwell } from './unwell.ts';

/**
 * Holds a reply to what the contract says of it: in tests, where each reply is looked at. What people are told in earnest is not
 * looked at twice.
 * @throws Error that names the route and what of its reply is not as it was promised
 */
export function checkReply(name: RouteName, reply: unknown): void {
  const told =
    reply instanceof Written
      ? JSON.parse(Buffer.from(reply.bytes).toString('utf8'))
      : // What has no value goes over the line as nothing at all.
        JSON.parse(JSON.stringify(reply instanceof Unwell ? reply.body : reply) ?? 'null');
  const read = (routes[name].reply as z.ZodType).safeParse(told);
  if (!read.success) {
    const [issue] = read.error.issues;
    throw new Error(
      `${name} answers with another reply than was promised: ${issue!.path.join('.')}: ${issue!.message}`,
    );
  }
}
