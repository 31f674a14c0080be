import { z } from 'zod';
import { MOST_EDITS, MOST_PAGES, MOST_READERS, TEXT } from '../bounds/index.ts';
import { assumptionsSchema } from '../report/assumptions.ts';
import { bindingSchema } from '../report/binding.ts';
import { agencyBrandInput } from '../report/brand.ts';
import { documentSchema, titleSchema as title } from '../report/document.ts';
import { editSchema } from '../report/edit/editSchema.ts';
import { filterSchema } from '../report/filterSchema.ts';
import { boundedRange, civilDate, comparisonSpec, periodSpec } from '../report/specs.ts';
import { brandInput } from './clients.ts';
import { EDITION_STATES } from './editions.ts';
import { EVERYONE, MAKERS, MANAGERS, range, route } from './route.ts';
import { scenePage } from './scenePage.ts';

const report = z.object({
  id: z.string(),
  clientId: z.string(),
  title: z.string(),
  document: documentSchema,
  version: z.int(),
  updatedAt: z.string(),
  /** The template that it follows, the version of it that it has, and the newest one; null for none. */
  template: z.object({ id: z.string(), name: z.string(), version: z.int(), newest: z.int() }).nullable(),
  /** What editions are made from: when and by whom it was released; null before the first time. */
  released: z
    .object({
      at: z.string(),
      by: z.string().nullable(),
      /** Nothing was edited since. */
      current: z.boolean(),
      /** What it assumes, by default: a schedule may set it anew. */
      assumptions: assumptionsSchema,
      /** Its pages that go out: a schedule may send some of them alone. */
      pages: z.array(z.object({ id: z.string(), title: z.string() })),
    })
    .nullable(),
});

/**
 * For which dates a report is looked at: its own, those of a coming run of one of its schedules, or any. Looking changes
 * nothing.
 */
export const look = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('own') }),
  z.object({ kind: z.literal('run'), schedule: z.string(), nominal: civilDate }),
  z.object({ kind: z.literal('dates'), from: civilDate, to: civilDate }).superRefine(boundedRange),
]);
export type Look = z.infer<typeof look>;

/** What is written for the period that is looked at, of one block. */
const written = z.object({
  block: z.string(),
  draft: z.string(),
  released: z.string(),
  /** The last period before it that has words: a text to start from. */
  before: z.object({ label: z.string(), text: z.string() }).nullable(),
});
export type Written = z.infer<typeof written>;

/** A run to come of one of a report's schedules. */
const run = z.object({
  schedule: z.string(),
  nominal: z.string(),
  at: z.string(),
  local: z.object({ date: z.string(), time: z.string() }),
  zone: z.string(),
  period: range.extend({ label: z.string() }),
  compared: range.extend({ label: z.string() }).nullable(),
  readers: z.int(),
});
export type ReportRun = z.infer<typeof run>;

/** An edition or run that a release is about. */
const touched = z.object({
  key: z.string(),
  edition: z.string().nullable(),
  at: z.string(),
  local: z.object({ date: z.string(), time: z.string() }),
  label: z.string(),
  state: z.enum(EDITION_STATES),
});

/** What a release reaches, and what it can no longer reach. */
const releasing = z.object({
  /** What is edited differs from what goes out. */
  needed: z.boolean(),
  reaches: z.array(touched),
  tooLate: z.array(touched),
});
export type Releasing = z.infer<typeof releasing>;

/** A laid-out report; pages that the asker holds already come as their hash alone. */
const preview = z.object({
  lang: z.string(),
  pages: z.array(z.object({ hash: z.string(), page: scenePage.nullable() })),
  period: range.extend({ label: z.string(), dates: z.string() }),
  compared: range.extend({ label: z.string(), dates: z.string() }).nullable(),
  /** Sentences on what its figures and letters lack, and on its length; empty when all is well. */
  lacks: z.array(z.string()),
  commentary: z.array(written),
  /** It lacks what only services can count, and have not counted yet (`count`). */
  uncounted: z.boolean(),
  /** Pages of the design that were left for the next time it is asked. */
  rest: z.int(),
});

export type Report = z.infer<typeof report>;

export const editionMade = z.object({ editionId: z.string() });

export const reportRoutes = {
  'GET /api/starters': route({
    about: 'Designs a report can start from.',
    roles: EVERYONE,
    reply: z.array(z.object({ key: z.string(), label: z.string(), about: z.string() })),
  }),
  'GET /api/clients/:client/reports': route({
    about: 'The reports of a client.',
    roles: EVERYONE,
    reply: z.array(
      report.omit({ document: true }).extend({
        /** What it shows by its own design: of the release, or of the draft of one that was never released. */
        design: z.object({ period: periodSpec, comparison: comparisonSpec, filter: filterSchema }),
        /** How many schedules send it. */
        schedules: z.int(),
      }),
    ),
  }),
  'POST /api/clients/:client/reports': route({
    about: 'Create a report from a starter, from a template, which it then uses, or from another report.',
    roles: MAKERS,
    body: z.object({
      title,
      starter: z.string().optional(),
      template: z.string().optional(),
      report: z.string().optional(),
      /** What the client calls otherwise. */
      binding: bindingSchema.default({ metrics: {}, dimensions: {} }),
    }),
    reply: report,
  }),
  'DELETE /api/reports/:report': route({
    about: 'Delete a report: its schedules end. Its editions stay in the archive.',
    roles: MANAGERS,
    reply: z.object({ /** Schedules that ended with it. */ ended: z.int() }),
  }),
  'GET /api/reports/:report': route({ about: 'One report.', roles: EVERYONE, reply: report }),
  'PUT /api/reports/:report': route({
    about: 'Save a report; refused if someone saved another version in the meantime.',
    roles: MAKERS,
    body: z.object({ title, document: documentSchema, version: z.int() }),
    reply: report,
  }),
  'POST /api/reports/:report/edits': route({
    about:
      'Apply all edits or none to the current version of a report, even if someone changed it since `version`. Edits of deleted parts are refused with 409, at `edits.N`.',
    roles: MAKERS,
    body: z.object({ version: z.int(), edits: z.array(editSchema).min(1).max(MOST_EDITS) }),
    reply: z.object({
      version: z.int(),
      updatedAt: z.string(),
      /** The report as it is now, where somebody else had changed it since `version`. */
      now: z.object({ title: z.string(), document: documentSchema }).nullable(),
    }),
  }),
  'PUT /api/reports/:report/here': route({
    about:
      'Report the selected block every few seconds; the response says who else is there, and contains the report if its version changed.',
    roles: EVERYONE,
    body: z.object({
      /** Of one tab of one browser. */
      window: z.string().min(1).max(40),
      block: z.string().max(60).nullable(),
      version: z.int(),
      /** The window is left. */
      leaving: z.boolean().default(false),
    }),
    reply: z.object({
      others: z.array(z.object({ window: z.string(), name: z.string(), block: z.string().nullable() })),
      version: z.int(),
      now: z.object({ title: z.string(), document: documentSchema }).nullable(),
    }),
  }),
  'POST /api/reports/:report/preview': route({
    about: 'Preview a report, saved or not, for given dates.',
    roles: EVERYONE,
    body: z.object({
      title: title.optional(),
      document: documentSchema.optional(),
      have: z.array(z.string().max(40)).max(100).default([]),
      look: look.default({ kind: 'own' }),
      /** With this brand in place of the client's own. */
      brand: brandInput.optional(),
      /** With this kit of the agency's in place of the one that there is. */
      agencyBrand: agencyBrandInput.optional(),
      /** Draw no more than the first pages of the design. */
      pages: z.int().min(1).max(MOST_PAGES).optional(),
    }),
    reply: preview,
  }),
  'POST /api/reports/:report/count': route({
    about: 'Request unique counts of a report from services, for given dates; a preview makes no requests.',
    roles: EVERYONE,
    body: z.object({ document: documentSchema.optional(), look: look.default({ kind: 'own' }) }),
    reply: z.object({ /** Figures that were asked for. */ asked: z.int() }),
  }),
  'POST /api/reports/:report/test': route({
    about: 'Email a test of the draft to yourself, for given dates. It is not an edition.',
    roles: EVERYONE,
    body: z.object({ look: look.default({ kind: 'own' }) }),
    reply: editionMade,
  }),
  'POST /api/reports/:report/make': route({
    about: 'Create an edition without a schedule. With readers, it needs review and is sent by hand.',
    roles: MANAGERS,
    body: z.object({
      contacts: z.array(z.string()).max(MOST_READERS),
      look: look.default({ kind: 'own' }),
    }),
    reply: editionMade,
  }),
  'GET /api/reports/:report/runs': route({
    about: 'The next runs of a report’s schedules, soonest first.',
    roles: EVERYONE,
    reply: z.array(run),
  }),
  'PUT /api/reports/:report/commentary': route({
    about: 'Save commentary for one period; it is used after the next release, or immediately if requested.',
    roles: MAKERS,
    body: z
      .object({
        block: z.string().max(60),
        from: civilDate,
        to: civilDate,
        text: z.string().max(TEXT.commentary, `Maximum ${TEXT.commentary} characters.`),
        /** What was there when one began: words of others since come back. */
        before: z.string().max(TEXT.commentary).optional(),
        /** It goes out as it is, with nothing else of the report; for those who may release. */
        release: z.boolean().default(false),
      })
      .superRefine(boundedRange),
    reply: z.object({
      /** What somebody else had written meanwhile, in whose place this stands. */ over: z.string().nullable(),
    }),
  }),
  'GET /api/reports/:report/release': route({
    about: 'What a release would affect, and what it is too late for.',
    roles: EVERYONE,
    reply: releasing,
  }),
  'POST /api/reports/:report/release': route({
    about: 'Release the draft; refused if someone saved another version in the meantime.',
    roles: MANAGERS,
    body: z.object({ version: z.int() }),
    reply: z.object({ report, releasing }),
  }),
};
