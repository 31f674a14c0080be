import { ownOf } from '@chronicon/core/bounds';
import { figuresQuery, look } from '@chronicon/core/contract';
import { fileNameOf, filterWords } from '@chronicon/core/report';
import { formatterOf } from '@chronicon/core/words';
import { figuresOf, viewOf } from '../../figures/ask.ts';
import { englishFor } from '../../figures/english.ts';
import { atField, notFound, Refusal } from '../../platform/refusal.ts';
import { TABLE_FORMATS } from '../../render/tables/formats.ts';
import { pdfOf } from '../../scheduler/editionFiles.ts';
import { clientById } from '../../store/clients.ts';
import { ordersOf } from '../../store/editions.ts';
import { agencyOf } from '../../store/members.ts';
import { segmentsOf } from '../../store/segments.ts';
import { picturesAt } from '../../workers/itemPictures.ts';
import { theClient, theEdition, theReport } from '../access.ts';
import type { Api } from '../context.ts';
import { lookAt, orderOfLook, withClient } from '../looking.ts';
import { type FileHandlers, param } from './fileHandlers.ts';

/** What is drawn or counted, as a file to keep. */
export const drawnFiles = (
  api: Api,
): FileHandlers<
  'GET /api/editions/:edition/pdf' | 'GET /api/reports/:report/pdf' | 'GET /api/clients/:client/figures/table'
> => ({
  'GET /api/editions/:edition/pdf': async (req, res, { member }) => {
    const e = await theEdition(api.store, member, param(req, 'edition'));
    if (e.pdf === null) throw notFound('PDF');
    const client = (await clientById(api.store, e.client_id))!;
    const period = formatterOf(client.language, client.currency).range({ from: e.period_from!, to: e.period_to! });
    const kept = await pdfOf(api, e);
    if (!kept.ok) throw new Refusal(503, kept.reason);
    res.type('application/pdf');
    if (req.query.show === undefined) res.attachment(fileNameOf([client.name, ordersOf(e).title, period], 'pdf'));
    res.send(kept.pdf);
  },

  'GET /api/reports/:report/pdf': async (req, res, { member }) => {
    const report = await theReport(api.store, member, param(req, 'report'));
    const client = await withClient(api, report);
    const { schedule, nominal, from, to } = req.query;
    const asked = look.safeParse(
      schedule !== undefined
        ? { kind: 'run', schedule, nominal }
        : from !== undefined
          ? { kind: 'dates', from, to }
          : { kind: 'own' },
    );
    if (!asked.success) throw atField('look', asked.error.issues[0]!.message);
    const order = await orderOfLook(api, report, client, await lookAt(api, report, client, asked.data));
    const pdf = await api.workers.paint(order, api.clock.now(), (addresses) => picturesAt(api, client.id, addresses));
    const period = formatterOf(client.language, client.currency).range(order.period);
    res.type('application/pdf');
    if (req.query.show === undefined) res.attachment(fileNameOf([client.name, report.title, period], 'pdf'));
    res.send(Buffer.from(pdf));
  },

  'GET /api/clients/:client/figures/table': async (req, res, { member }) => {
    const client = await theClient(api.store, member, param(req, 'client'));
    const { as, ...asked } = req.query;
    const format = ownOf(TABLE_FORMATS, String(as));
    if (!format) throw atField('as', `Ask for one of ${Object.keys(TABLE_FORMATS).join(', ')}.`);
    const query = figuresQuery.safeParse(asked);
    if (!query.success) throw atField(String(query.error.issues[0]!.path[0]), query.error.issues[0]!.message);
    const figures = await figuresOf(api, client);
    const view = await viewOf(api, figures, query.data);
    const english = englishFor(client);
    const { words } = english;
    const segments = await segmentsOf(api.store, client.id);
    const filter = query.data.filter.map((part) => filterWords([part], segments, english));
    const names = { agency: (await agencyOf(api.store))?.name ?? '', client: client.name, filter };
    const file = await api.workers.table({ view, names, as: String(as), created: api.clock.now() });
    const label = figures.knowledge.book.labelOf(query.data.metrics[0]!, words.metrics);
    const name = fileNameOf([client.name, label, english.shortRange(view.plan.period)], format.extension);
    res.type(format.type).attachment(name).send(file);
  },
});
