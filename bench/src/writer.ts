import { openFacts, replaceDays, saveDataset } from '@chronicon/server/facts';
import { MEASURES, months, rowsOf } from './figures.ts';

/** An import that never pauses: months of 200 rows a day, over and over; tells its rows a second after each. */
const facts = await openFacts(process.argv[2]!);
const dimensions = ['channel', 'device', 'country'];
const spec = { key: 'visits', name: 'Visits', firstDay: '2024-11-01', dimensions, measures: MEASURES };
const id = await saveDataset(facts, { feedId: 'fe_import', clientId: 'cl_import', position: 0 }, spec);
for (;;) {
  for (const range of months()) {
    const rows = rowsOf(1, dimensions, range, 200);
    const began = performance.now();
    await replaceDays(facts, id, spec, range, rows, '2026-11-01T05:00:00.000Z');
    process.send?.((rows.length / (performance.now() - began)) * 1_000);
    // Messages go out between months.
    await new Promise((resolve) => setImmediate(resolve));
  }
}
