import { mkdirSync, writeFileSync } from 'node:fs';
import { LOCALES } from '../src/words/index.ts';
import { goldenWords } from './goldenWords.ts';

/**
 * Writes the sentences of every language to its file: `npm run words -- 2026-12-02`, with the date of the review.
 */
const [reviewed] = process.argv.slice(2);
if (!/^\d{4}-\d\d-\d\d$/.test(reviewed ?? '')) {
  console.error('npm run words -- YYYY-MM-DD, the date of the review');
  process.exit(2);
}
const folder = new URL('./words/', import.meta.url);
mkdirSync(folder, { recursive: true });
for (const { value, label } of LOCALES)
  writeFileSync(
    new URL(`${value}.txt`, folder),
    `# ${label}, read on ${reviewed}\n\n${goldenWords(value).join('\n')}\n`,
  );
