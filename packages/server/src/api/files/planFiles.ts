import { routes } from '@chronicon/core/contract';
import { fileNameOf } from '@chronicon/core/report';
import { atField, Refusal } from '../../platform/refusal.ts';
import { createCalendarAnswers } from '../calendarAnswers.ts';
import { memberOfCalendar } from '../calendarLink.ts';
import type { Api } from '../context.ts';
import { sendPacked } from '../sendPacked.ts';
import { type FileHandlers, param } from './fileHandlers.ts';

/** Deliveries, as a table and as a calendar. */
export const planFiles = (api: Api): FileHandlers<'GET /api/look-ahead/table' | 'GET /api/calendar/:key'> => {
  const calendarFor = createCalendarAnswers(api);
  return {
    'GET /api/look-ahead/table': async (req, res, { member }) => {
      const asked = routes['GET /api/look-ahead'].query.safeParse(req.query);
      if (!asked.success) throw atField(String(asked.error.issues[0]!.path[0]), asked.error.issues[0]!.message);
      const { from, to } = asked.data;
      const file = await api.reads.run({ name: 'look-ahead.csv', query: asked.data, member, now: api.clock.now() });
      res.type('text/csv').attachment(fileNameOf(['Deliveries', from, to], 'csv'));
      await sendPacked(req, res, file);
    },

    'GET /api/calendar/:key': async (req, res) => {
      const member = await memberOfCalendar(api.store, param(req, 'key').replace(/\.ics$/, ''));
      if (!member) throw new Refusal(401, 'Invalid or expired link.');
      res
        .set('cache-control', 'private, max-age=300')
        .type('text/calendar')
        .send(await calendarFor(member));
    },
  };
};
