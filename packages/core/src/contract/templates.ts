import { z } from 'zod';
import { MOST_FOLLOWING, MOST_TEXTS, NAME, TEXT } from '../bounds/index.ts';
import { bindingSchema } from '../report/binding.ts';
import { documentSchema, titleSchema } from '../report/document.ts';
import { done, EVERYONE, MAKERS, MANAGERS, route } from './route.ts';

const named = z.object({
  name: z.string().trim().min(1, 'Enter a template name.').max(NAME, `Maximum ${NAME} characters.`),
  about: z.string().trim().max(TEXT.about, `Maximum ${TEXT.about} characters.`),
});

const template = z.object({
  /** Null for a design that comes with the product, which has a `starter` instead. */
  id: z.string().nullable(),
  starter: z.string().nullable(),
  name: z.string(),
  about: z.string(),
  version: z.int(),
  updatedAt: z.string().nullable(),
  /** Reports that follow it, of clients whom one sees; those of them that have an older version. */
  reports: z.int(),
  behind: z.int(),
});
export type TemplateRow = z.infer<typeof template>;

/** Which design: one that comes with the product, one of the agency, or a report’s. */
const design = z.object({
  starter: z.string().optional(),
  template: z.string().optional(),
  report: z.string().optional(),
});

const offer = z.object({ key: z.string(), label: z.string() });
const need = offer.extend({
  /** A feed of the client brings it. */
  there: z.boolean(),
  /** What is there and like it, the likest first. */
  near: z.array(offer),
});
export type DesignNeed = z.infer<typeof need>;

/** A report that follows a template, and what it would change in it. */
const follower = z.object({
  report: z.string(),
  title: z.string(),
  client: z.object({ id: z.string(), name: z.string() }),
  version: z.int(),
  /** Sentences on what the newest version changes in its draft; empty where it has it. */
  changes: z.array(z.string()),
  /** Sentences on what cannot be followed, since the report no longer has it. */
  leaves: z.array(z.string()),
  /** The kept version by which the last following can be undone, where nothing was followed since. */
  undo: z.string().nullable(),
});
export type Follower = z.infer<typeof follower>;

const followers = z.object({
  /** Those that are behind first. */
  followers: z.array(follower),
  total: z.int(),
  /** How many of all are behind the newest version. */
  behind: z.int(),
  page: z.int(),
  pageSize: z.int(),
});
export type Followers = z.infer<typeof followers>;

/** Of what somebody typed into a report, the texts that may come along: those that were seen and ticked. */
const texts = z.array(z.string().max(TEXT.commentary)).max(MOST_TEXTS).default([]);

const typedTexts = z.object({
  texts: z.array(
    z.object({
      text: z.string(),
      /** Where it stands first, in words. */
      where: z.string(),
      namesClient: z.boolean(),
    }),
  ),
  /** What never comes along: how many blocks count a part of the figures, and have pictures and words of their own. */
  lost: z.object({ filters: z.int(), pictures: z.int(), commentaries: z.int() }),
});

const version = z.object({
  id: z.string(),
  kind: z.enum(['release', 'kept', 'before']),
  name: z.string(),
  title: z.string(),
  at: z.string(),
  by: z.string().nullable(),
});
export type ReportVersion = z.infer<typeof version>;

const versionName = z.object({ name: z.string().trim().max(NAME, `Maximum ${NAME} characters.`) });

export const templateRoutes = {
  'GET /api/templates': route({
    about: 'Designs a report can start from: the agency’s templates, and built-in starters.',
    roles: EVERYONE,
    reply: z.array(template),
  }),
  'POST /api/templates': route({
    about:
      'Save a report’s draft as a template. Commentary, pictures and filters are not included, the client’s name becomes a field, and typed texts are included only if named.',
    roles: MAKERS,
    body: named.extend({ report: z.string(), texts }),
    reply: z.object({ id: z.string() }),
  }),
  'GET /api/templates/:template': route({
    about: 'One template with its design.',
    roles: EVERYONE,
    reply: template.extend({ id: z.string(), title: z.string(), document: documentSchema }),
  }),
  'PUT /api/templates/:template': route({
    about: 'Rename a template.',
    roles: MAKERS,
    body: named,
    reply: done,
  }),
  'DELETE /api/templates/:template': route({
    about: 'Remove a template; reports stay unchanged.',
    roles: MANAGERS,
    reply: done,
  }),
  'POST /api/templates/:template/take': route({
    about: 'Update a template from a report’s draft. Linked reports change only when someone updates them.',
    roles: MAKERS,
    body: z.object({ report: z.string(), texts }),
    reply: z.object({ version: z.int() }),
  }),
  'GET /api/templates/:template/following': route({
    about: 'The reports that use a template, each with what the newest version would change.',
    roles: EVERYONE,
    query: z.object({ page: z.coerce.number().int().min(1).max(100_000).default(1) }),
    reply: followers,
  }),
  'POST /api/templates/:template/follow': route({
    about: 'Update reports to the newest version, as drafts. Earlier versions are kept and can be restored.',
    roles: MAKERS,
    body: z.object({
      version: z.int(),
      reports: z
        .array(z.string())
        .min(1, 'Choose at least one report.')
        .max(MOST_FOLLOWING, `Choose at most ${MOST_FOLLOWING} reports.`),
    }),
    reply: z.object({ followed: z.array(z.object({ report: z.string(), kept: z.string() })) }),
  }),
  'POST /api/clients/:client/needs': route({
    about: 'What a design needs from a client, whether it is available, and alternatives.',
    roles: EVERYONE,
    body: design.safeExtend({ binding: bindingSchema.default({ metrics: {}, dimensions: {} }) }),
    reply: z.object({
      metrics: z.array(need),
      dimensions: z.array(need),
      /** Blocks of a starting design that no feed answers: they are left out of the report, each with its page. */
      drops: z.array(z.object({ name: z.string(), page: z.string() })),
    }),
  }),
  'GET /api/reports/:report/typed-texts': route({
    about: 'The typed texts of a report, to choose which are included in a template or a copy.',
    roles: MAKERS,
    reply: typedTexts,
  }),
  'POST /api/reports/:report/clone': route({
    about: 'Copy a report to other clients, as drafts.',
    roles: MAKERS,
    body: z.object({
      title: titleSchema.optional(),
      clients: z
        .array(z.string())
        .min(1, 'Choose at least one client.')
        .max(MOST_FOLLOWING, `Choose at most ${MOST_FOLLOWING} clients.`),
      texts,
    }),
    reply: z.object({
      made: z.array(
        z.object({
          client: z.string(),
          report: z.string(),
          /** Of its metrics, those no feed brings. */ missing: z.array(z.string()),
        }),
      ),
    }),
  }),
  'GET /api/reports/:report/versions': route({
    about: 'The versions of a report: releases, named versions, and before changes of the whole.',
    roles: EVERYONE,
    reply: z.array(version),
  }),
  'POST /api/reports/:report/versions': route({
    about: 'Save the draft as a named version.',
    roles: MAKERS,
    body: versionName.extend({ version: z.int() }),
    reply: z.object({ id: z.string() }),
  }),
  'GET /api/reports/:report/versions/:kept': route({
    about: 'One version of a report, with its design.',
    roles: EVERYONE,
    reply: version.extend({ document: documentSchema }),
  }),
  'PUT /api/reports/:report/versions/:kept': route({
    about: 'Rename a version of a report.',
    roles: MAKERS,
    body: versionName,
    reply: done,
  }),
  'POST /api/reports/:report/versions/:kept/restore': route({
    about: 'Restore a version as the draft. The current draft is kept.',
    roles: MAKERS,
    body: z.object({ version: z.int() }),
    reply: z.object({ version: z.int(), kept: z.string() }),
  }),
};
