import { z } from 'zod';
import { columnUse, DATE_STYLES, ENCODINGS, fileMapping, SEPARATORS } from '../feeds/index.ts';
import { OWN_UNITS } from '../figures/index.ts';
import { done, EVERYONE, MAKERS, route } from './route.ts';

export const IMPORT_STATES = ['looking', 'asking', 'importing', 'done', 'refused', 'cancelled', 'undone'] as const;

export const reading = z.object({
  format: z.enum(['text', 'xlsx', 'jsonl']),
  encoding: z.enum(ENCODINGS),
  separator: z.enum(SEPARATORS),
  /** The sheet of a workbook, by its name. */
  sheet: z.string().max(100).nullable(),
  sheets: z.array(z.string()),
});
export type Reading = z.infer<typeof reading>;

const importRow = z.object({
  id: z.string(),
  feed: z.string().nullable(),
  fileName: z.string(),
  bytes: z.int(),
  state: z.enum(IMPORT_STATES),
  /** Why it was refused or stopped, in words. */
  problem: z.string().nullable(),
  source: z.enum(['dropped', 'folder', 'put']),
  /** 0 to 1. */
  progress: z.number(),
  good: z.int(),
  bad: z.int(),
  range: z.object({ from: z.string(), to: z.string() }).nullable(),
  hasRejects: z.boolean(),
  /** Days that are not known because of rows that were set aside. */
  unknown: z.array(z.object({ from: z.string(), to: z.string() })),
  canUndo: z.boolean(),
  madeBy: z.string().nullable(),
  at: z.string(),
});
export type ImportRow = z.infer<typeof importRow>;

const importDetail = importRow.extend({
  reading,
  /** What was found out of the file; null while it is being looked at, or could not be read. */
  inspection: z
    .object({
      columns: z.array(
        z.object({
          name: z.string(),
          samples: z.array(z.string()),
          use: columnUse,
          /** It seems to hold rates or averages, which are never added up. */
          rates: z.literal(true).optional(),
          /** What its figures seem to be, beyond counts. */
          unit: z.enum(['duration', 'percent', 'money']).optional(),
          /** Another currency than the client's, which its heading names. */
          currency: z.string().optional(),
          /** The currencies that it names, of a column that names them. */
          currencies: z.array(z.string()).optional(),
        }),
      ),
      mapping: fileMapping,
      doubts: z.array(z.enum(['dates', 'numbers', 'currency', 'rates'])),
      dateStyles: z.array(z.enum(DATE_STYLES)),
      /** Whether rows call themselves totals. */
      hasTotals: z.boolean(),
      notices: z.array(z.string()),
      /** The whole months that its first rows are of; null where none of their days could be read. */
      days: z.object({ from: z.string(), to: z.string() }).nullable(),
      /** How files may name the client's own currency: its code and its signs. */
      ownSigns: z.array(z.string()),
    })
    .nullable(),
  /** What a column can be read as: dimensions and figures that reports know already. */
  known: z.object({
    dimensions: z.array(z.object({ key: z.string(), label: z.string() })),
    measures: z.array(z.object({ key: z.string(), label: z.string() })),
    /** Figures that a feed brings already, with its name and its id. */
    brought: z.array(z.object({ key: z.string(), label: z.string(), feed: z.string(), by: z.string() })),
    /** Whether the feed that the file goes into is counted together with others. */
    together: z.boolean(),
  }),
});
export type ImportDetail = z.infer<typeof importDetail>;

/** What a new measure is, for the client's list of metrics. */
const newMetric = z.object({
  key: z.string(),
  label: z.string().trim().min(1, 'Enter a name.').max(60, 'Maximum 60 characters.'),
  unit: z.enum(OWN_UNITS),
  polarity: z.enum(['higher', 'lower', 'neutral']),
  /** `weighted`: it holds rates or averages; `weight` names the measure that says how much each counts. */
  kind: z.enum(['sum', 'level', 'weighted']),
  weight: z.string().optional(),
  /** Of a column that seems to hold rates: a person says that it does not. */
  noRates: z.boolean().optional(),
});
export type NewMetric = z.infer<typeof newMetric>;

const params = z.object({ mapping: fileMapping });

export const importRoutes = {
  'GET /api/clients/:client/imports': route({
    about: 'The files uploaded for a client, newest first.',
    roles: EVERYONE,
    reply: z.array(importRow),
  }),
  'GET /api/clients/:client/imports/:import': route({
    about: 'One file: what was detected, and the progress of its import.',
    roles: EVERYONE,
    reply: importDetail,
  }),
  'PUT /api/clients/:client/imports/:import/description': route({
    about: 'Add a schema file (CSV on the Web, Table Schema); the file is checked again with it.',
    roles: MAKERS,
    body: z.unknown(),
    reply: importDetail,
  }),
  'POST /api/clients/:client/imports/:import/look': route({
    about: 'Check the file again with another encoding, separator or sheet.',
    roles: MAKERS,
    body: z.object({
      encoding: z.enum(ENCODINGS),
      separator: z.enum(SEPARATORS),
      sheet: z.string().max(100).nullable(),
    }),
    reply: importDetail,
  }),
  'POST /api/clients/:client/imports/:import/preview': route({
    about: 'A preview of the first rows.',
    roles: MAKERS,
    body: params.extend({
      /** New figures that are money. */
      money: z.array(z.string().max(60)).max(200).optional(),
    }),
    reply: z.object({
      fault: z.object({ column: z.string(), message: z.string() }).nullable(),
      columns: z.array(z.string()),
      rows: z.array(
        z.object({
          row: z.int(),
          cells: z.array(z.union([z.string(), z.number()])).nullable(),
          problem: z.string().nullable(),
        }),
      ),
    }),
  }),
  'POST /api/clients/:client/imports/:import/begin': route({
    about: 'Import the file into an existing or new file feed.',
    roles: MAKERS,
    body: z.object({
      mapping: fileMapping,
      feed: z.string().nullable(),
      name: z.string().trim().max(60, 'Maximum 60 characters.'),
      metrics: z.array(newMetric).max(100),
      /** Whether figures that other feeds bring too are counted together with them. */
      together: z.boolean().default(false),
    }),
    reply: importRow,
  }),
  'POST /api/clients/:client/imports/:import/aside': route({
    about: 'Ignore skipped rows: their days are complete without them.',
    roles: MAKERS,
    reply: done,
  }),
  'POST /api/clients/:client/imports/:import/cancel': route({
    about: 'Stop an import; nothing is kept.',
    roles: MAKERS,
    reply: done,
  }),
  'POST /api/clients/:client/imports/:import/undo': route({
    about: 'Undo an import: previous data is restored.',
    roles: MAKERS,
    reply: done,
  }),
  'DELETE /api/clients/:client/imports/:import': route({
    about: 'Dismiss a file that was not imported.',
    roles: MAKERS,
    reply: done,
  }),
  'POST /api/clients/:client/feeds/:feed/drop-key': route({
    about: 'Create a secret upload URL for this feed; an older one stops working.',
    roles: MAKERS,
    reply: z.object({ path: z.string(), folder: z.string() }),
  }),
};
