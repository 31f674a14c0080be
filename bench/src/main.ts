import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { benchComposer } from './composer.ts';
import { benchEdition } from './edition.ts';
import { benchFeeds } from './feeds.ts';
import { benchFigures } from './figures.ts';
import { benchFiguresScreen } from './figuresScreen.ts';
import { benchLists } from './lists.ts';
import { benchMail } from './mail.ts';
import { benchMainThread } from './mainThread.ts';
import { budgets } from './measure.ts';
import { benchRender } from './render.ts';
import { benchRoutes } from './routes.ts';
import { benchBundle, benchServer } from './server.ts';
import { benchTemplates } from './templates.ts';

/** Every bench by name; arguments choose among them. */
const BENCHES: Record<string, (folder: string) => Promise<void> | void> = {
  edition: benchEdition,
  render: benchRender,
  figures: benchFigures,
  screen: benchFiguresScreen,
  composer: benchComposer,
  templates: benchTemplates,
  feeds: benchFeeds,
  server: benchServer,
  routes: benchRoutes,
  lists: benchLists,
  mail: benchMail,
  bundle: benchBundle,
};

/** Benches that take long: run by their names alone. */
const BY_NAME: typeof BENCHES = { thread: benchMainThread };

const chosen = process.argv.slice(2);
const all = chosen.length > 0 ? { ...BENCHES, ...BY_NAME } : BENCHES;
for (const [name, run] of Object.entries(all)) {
  if (chosen.length > 0 && !chosen.includes(name)) continue;
  const folder = mkdtempSync(join(tmpdir(), `chronicon-bench-${name}-`));
  try {
    await run(folder);
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}
console.log(`\n${budgets()}`);
