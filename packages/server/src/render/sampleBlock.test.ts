import { execFileSync } from 'node:child_process';
import { cpSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { BLOCK_KINDS } from '@chronicon/core/report';
import { build } from 'esbuild';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';

const root = join(import.meta.dirname, '../../../..');
/** Inside the house, so that packages are found. */
const folder = (() => {
  mkdirSync(join(root, 'build'), { recursive: true });
  return mkdtempSync(join(root, 'build', 'sample-'));
})();
const core = join(folder, 'src');
const read = (file: string) => readFileSync(join(core, file), 'utf8');

/** The files that were changed or added, by what the page of the docs says and nothing else. */
const touched: string[] = [];
function write(file: string, text: string): void {
  writeFileSync(join(core, file), text);
  touched.push(file);
}

beforeAll(() => {
  cpSync(join(root, 'packages/core/src'), core, {
    recursive: true,
    filter: (f) => !/\.test\.ts$|\/kept(\/|$)/.test(f),
  });
  const page = readFileSync(join(root, 'docs/developing.md'), 'utf8');
  const [, file, block] = /`packages\/core\/src\/(report\/blocks\/\w+\.ts)`:\n\n```ts\n([\s\S]+?)```/.exec(page)!;
  write(file!, block!);
  const registry = read('report/blocks/registry.ts');
  write(
    'report/blocks/registry.ts',
    registry
      .replace('import { trend }', "import { tally } from './tally.ts';\nimport { trend }")
      .replace(/(const KINDS = \{[^}]+)\};/, '$1  tally,\n};'),
  );
  for (const file of readdirSync(join(core, 'words')).filter((f) => /^[a-z]{2}\.ts$/.test(f))) {
    const words = `words/${file}`;
    write(words, read(words).replace('  blocks: {\n', "  blocks: {\n    tally: 'Tally',\n"));
  }
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

describe('a kind of block that is added as the docs say', () => {
  it('touches its file, the registry and the words', () => {
    expect(touched.filter((f) => !f.startsWith('words/'))).toEqual([
      'report/blocks/tally.ts',
      'report/blocks/registry.ts',
    ]);
    expect(touched.filter((f) => f.startsWith('words/'))).toHaveLength(
      readdirSync(join(core, 'words')).filter((f) => /^[a-z]{2}\.ts$/.test(f)).length,
    );
  });

  it('holds to the types of all that uses blocks', () => {
    const config = {
      extends: join(root, 'tsconfig.base.json'),
      compilerOptions: { rootDir: 'src', outDir: 'types', composite: false, incremental: false },
      include: ['src'],
    };
    writeFileSync(join(folder, 'tsconfig.json'), JSON.stringify(config));
    const tsc = createRequire(join(root, 'package.json')).resolve('typescript/package.json');
    execFileSync(process.execPath, [join(tsc, '../bin/tsc'), '-p', folder], { encoding: 'utf8', stdio: 'pipe' });
  });

  it('is built, can be saved, and is seen in the gallery in every language', async () => {
    const entry = join(folder, 'entry.ts');
    writeFileSync(
      entry,
      `export { composeGallery } from './src/page/gallery/index.ts';
       export { BLOCK_KINDS, documentSchema } from './src/report/index.ts';
       export { LOCALES } from './src/words/index.ts';`,
    );
    const outfile = join(folder, 'built.mjs');
    await build({ entryPoints: [entry], outfile, bundle: true, format: 'esm', platform: 'node', packages: 'external' });
    const built = (await import(pathToFileURL(outfile).href)) as typeof import('@chronicon/core/page/gallery') &
      Pick<typeof import('@chronicon/core/report'), 'BLOCK_KINDS' | 'documentSchema'> &
      Pick<typeof import('@chronicon/core/words'), 'LOCALES'>;
    expect(built.BLOCK_KINDS.map((k) => k.kind as string)).toEqual([...BLOCK_KINDS.map((k) => k.kind), 'tally']);
    const ruler = {
      runs: (face: 'sans' | 'sansBold' | 'serif' | 'serifBold', text: string) => [
        { face, text, advance: text.length / 2 },
      ],
      syllables: (word: string) => [word],
    };
    for (const { value } of built.LOCALES) {
      const [page] = built.composeGallery(value, 'full', ruler, 'tally').pages;
      expect(page!.blocks.map((b) => b.id)).toEqual([
        'tally-1-1',
        'tally-2-1',
        'tally-2-2',
        'tally-3-1',
        'tally-3-2',
        'tally-3-3',
      ]);
      expect(page!.ops.filter((op) => op.k === 'text' && op.size === 18 && /\d/.test(op.text))).toHaveLength(6);
    }
    const document = {
      version: 2,
      period: { kind: 'rolling', days: 7 },
      comparison: { kind: 'none' },
      pages: [
        { id: 'p', title: 'P', rows: [{ id: 'r', blocks: [{ kind: 'tally', id: 'b', metric: 'visits', title: '' }] }] },
      ],
    };
    expect(built.documentSchema.safeParse(document).success).toBe(true);
  });
});
