import { z } from 'zod';
import { scopeQuery } from './clients.ts';
import { EDITION_STATES } from './editions.ts';
import { EVERYONE, route } from './route.ts';

const sheetLine = z.object({
  key: z.string(),
  editionId: z.string().nullable(),
  scheduleId: z.string().nullable(),
  clientId: z.string(),
  clientName: z.string(),
  colour: z.string(),
  title: z.string(),
  at: z.string(),
  local: z.object({ date: z.string(), time: z.string() }),
  /** The client's own clock, where it shows another time than the agency's: `09:00 Berlin time`. */
  there: z.string().nullable(),
  periodLabel: z.string(),
  readers: z.int(),
  state: z.enum(EDITION_STATES),
});

const need = z.object({
  /** One line for each cause. */
  key: z.string(),
  tone: z.enum(['wrong', 'attention', 'calm']),
  title: z.string(),
  reason: z.string(),
  /** The first moment that it endangers, and what it holds up. */
  deadline: z.string().nullable(),
  editions: z.array(z.object({ id: z.string(), label: z.string(), at: z.string() })),
  /** Missed runs that may be put away or made, many at once. */
  missed: z.boolean(),
  /** Words that can be written where this is listed: of which block, for which period, and what there is of them. */
  write: z
    .object({ report: z.string(), block: z.string(), from: z.string(), to: z.string(), draft: z.string() })
    .optional(),
  /** The one obvious action, and where it leads. */
  action: z.object({ label: z.string(), to: z.string() }),
});

export type SheetLine = z.infer<typeof sheetLine>;
export type Need = z.infer<typeof need>;

export const deskRoutes = {
  'GET /api/changes': route({
    about: 'A version text that changes whenever a list or page has something new to show; cheap to poll.',
    roles: EVERYONE,
    reply: z.object({ mark: z.string() }),
  }),
  'GET /api/desk': route({
    about: 'Yesterday, today and the next seven days; and what needs attention.',
    roles: EVERYONE,
    query: z.object({ client: z.string().optional(), scope: scopeQuery }),
    reply: z.object({
      now: z.string(),
      /** Whose clock the day sheet shows. */
      zone: z.string(),
      today: z.string(),
      time: z.string(),
      /** Of a day with very many lines, those that need a person and the first; `more` are in the archive. */
      days: z.array(z.object({ date: z.string(), lines: z.array(sheetLine), more: z.int() })),
      needs: z.array(need),
      /** How many needs there are beyond those listed. */
      moreNeeds: z.int(),
    }),
  }),
};
