import { COMPOSE_VERSION, readFrozen, sceneDifference } from '@chronicon/core/page';
import { readConfig } from '../platform/config.ts';
import { editionById } from '../store/editions.ts';
import { openFiles } from '../store/files.ts';
import { openStore } from '../store/store.ts';
import { layOut } from './draw.ts';
import { createShaper } from './shaper.ts';

/**
 * Lays a frozen edition out anew, from its figures as they were, and says in what it differs from what was sent:
 * `npm run redraw -- EDITION`, with the data folder in CHRONICON_DATA. Nothing is changed.
 */
const id = process.argv[2];
const { data } = readConfig(process.env);
const store = await openStore(data);
const edition = id ? await editionById(store, id) : null;
if (!edition?.frozen) {
  console.error(id ? `There is no drawn edition ${id} in ${data}.` : 'npm run redraw -- EDITION');
  process.exitCode = 2;
} else {
  const kept = readFrozen(openFiles(data, 0).read(edition.frozen).toString('utf8'), `the edition ${id}`);
  const found = sceneDifference(kept.scene, layOut(kept.order, kept.answers, createShaper()));
  console.log(
    `${edition.title}, ${edition.period_from} to ${edition.period_to}, drawn by layout ${kept.composeVersion}`,
  );
  console.log(found.length === 0 ? `layout ${COMPOSE_VERSION} draws the same, byte for byte` : found.join('\n'));
}
await store.destroy();
