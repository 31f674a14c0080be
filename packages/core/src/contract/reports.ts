import { z } from 'zod';
import type { Scene } from '../page/index.ts';
import { documentSchema } from '../report/document.ts';
import { comparisonSpec, periodSpec } from '../report/specs.ts';
import { EVERYONE, MAKERS, MANAGERS, range, route } from './route.ts';

const title = z.string().trim().min(1, 'Give the report a title.').max(120, 'Keep it to 120 characters.');

const report = z.object({
  id: z.string(),
  clientId: z.string(),
  title: z.string(),
  document: documentSchema,
  version: z.int(),
  updatedAt: z.string(),
});

const scenePage = z.custom<Scene['pages'][number]>((v) => typeof v === 'object' && v !== null);

/** A laid-out report; pages that the asker holds already come as their hash alone. */
const preview = z.object({
  lang: z.string(),
  pages: z.array(z.object({ hash: z.string(), page: scenePage.nullable() })),
  period: range.extend({ label: z.string(), dates: z.string() }),
  compared: range.extend({ label: z.string(), dates: z.string() }).nullable(),
  /** Sentences on what the figures lack; empty when all days are there. */
  lacks: z.array(z.string()),
});

export type Report = z.infer<typeof report>;

export const editionMade = z.object({ editionId: z.string() });

export const reportRoutes = {
  'GET /api/starters': route({
    about: 'Designs that a report can begin with.',
    roles: EVERYONE,
    reply: z.array(z.object({ key: z.string(), label: z.string(), about: z.string() })),
  }),
  'GET /api/clients/:client/reports': route({
    about: 'The reports of a client.',
    roles: EVERYONE,
    reply: z.array(report.omit({ document: true })),
  }),
  'POST /api/clients/:client/reports': route({
    about: 'A new report from a starter.',
    roles: MAKERS,
    body: z.object({ title, starter: z.string() }),
    reply: report,
  }),
  'GET /api/reports/:report': route({ about: 'One report.', roles: EVERYONE, reply: report }),
  'PUT /api/reports/:report': route({
    about: 'Save a report; refused when somebody saved another version meanwhile.',
    roles: MAKERS,
    body: z.object({ title, document: documentSchema, version: z.int() }),
    reply: report,
  }),
  'POST /api/reports/:report/preview': route({
    about: 'The report as it would be drawn now, saved or not.',
    roles: EVERYONE,
    body: z.object({
      title: title.optional(),
      document: documentSchema.optional(),
      have: z.array(z.string()).max(100).default([]),
    }),
    reply: preview,
  }),
  'POST /api/reports/:report/test': route({
    about: 'Make an edition now and mail it to oneself alone.',
    roles: EVERYONE,
    reply: editionMade,
  }),
  'POST /api/reports/:report/make': route({
    about: 'Make an edition now, outside any schedule; it goes to the contacts named, or to none.',
    roles: MANAGERS,
    body: z.object({
      contacts: z.array(z.string()),
      period: periodSpec.optional(),
      comparison: comparisonSpec.optional(),
    }),
    reply: editionMade,
  }),
};
