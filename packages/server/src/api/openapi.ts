import { type Route, routes } from '@chronicon/core/contract';
import { z } from 'zod';

const json = (schema: z.ZodType) => ({
  'application/json': {
    schema: z.toJSONSchema(schema, { unrepresentable: 'any', target: 'openapi-3.0', io: 'input' }),
  },
});

/** Made once: the contract does not change while the server runs. */
let made: unknown = null;

/** The API as an OpenAPI 3.0 document, made from the contract. */
export function openApi(): unknown {
  made ??= describe();
  return made;
}

function describe(): unknown {
  const paths: Record<string, Record<string, unknown>> = {};
  for (const [name, r] of Object.entries(routes) as [string, Route][]) {
    const [method, path] = name.split(' ') as [string, string];
    const template = path.replace(/:(\w+)/g, '{$1}');
    paths[template] ??= {};
    paths[template][method.toLowerCase()] = {
      summary: r.about,
      parameters: [...path.matchAll(/:(\w+)/g)].map(([, p]) => ({
        name: p,
        in: 'path',
        required: true,
        schema: { type: 'string' },
      })),
      ...(method === 'GET' || method === 'DELETE' ? {} : { requestBody: { content: json(r.body) } }),
      responses: { 200: { description: 'Done.', content: json(r.reply) } },
      'x-roles': r.roles,
    };
  }
  return { openapi: '3.0.3', info: { title: 'Chronicon', version: '1' }, paths };
}
