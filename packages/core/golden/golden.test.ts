import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { adapters, runCase, type VectorFile } from './adapters.ts';

for (const file of Object.keys(adapters)) {
  const vectors = JSON.parse(readFileSync(new URL(`./${file}.json`, import.meta.url), 'utf8')) as VectorFile;
  describe(`${file}: ${vectors.spec}`, () => {
    it.each(vectors.cases.map((c) => [`${c.id} ${c.why ?? ''}`, c] as const))('%s', (_, c) => {
      expect(runCase(file, c)).toBeNull();
    });
  });
}
