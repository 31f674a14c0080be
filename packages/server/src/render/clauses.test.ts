import { createHash } from 'node:crypto';
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { readFrozen } from '@chronicon/core/page';
import { beforeAll, describe, expect, it } from 'vitest';
import { everyScene } from '../test/everyBlock.ts';
import { CLAUSES } from '../test/pdfClauses.ts';
import { openPdf, type PdfFile } from '../test/pdfFile.ts';
import { tablesOf, viewOf } from '../workers/typeface/tables.ts';
import { fontData } from './fonts.ts';
import { paintPdf } from './pdfPainter.ts';
import { createShaper } from './shaper.ts';

const shaper = createShaper();

/** A report with all there is: every kind of block, links, lists, other scripts, figures that go along. */
const paint = (language: string): Promise<Uint8Array> =>
  paintPdf(everyScene(language, shaper), shaper, () => new Uint8Array(), new Date('2026-11-02T08:00:00Z'));

describe.each(['en-GB', 'he-IL'])('a report in %s', (language) => {
  let bytes: Uint8Array;
  let file: PdfFile;
  beforeAll(async () => {
    bytes = await paint(language);
    file = await openPdf(bytes);
  });

  it.each(CLAUSES)('holds $clause: $asks', (clause) => {
    expect(clause.faults(file)).toEqual([]);
  });
});

describe('a report that is written with typefaces of a kit', () => {
  it('holds all of it: some of a face, and one that may not be parted', async () => {
    const brought = fontData('lora-400');
    viewOf(tablesOf(brought).get('OS/2')!).setUint16(8, 0x0104);
    const hash = createHash('sha256').update(brought).digest('hex');
    const own = createShaper(() => brought);
    const typefaces = {
      text: { kind: 'own' as const, name: 'Tarn', regular: hash, bold: null },
      heads: 'robotoSlab' as const,
    };
    const scene = everyScene('pl-PL', own, typefaces);
    const file = await openPdf(await paintPdf(scene, own, () => new Uint8Array(), new Date(0)));
    for (const clause of CLAUSES) expect(clause.faults(file), clause.clause).toEqual([]);
  });
});

describe('a check', () => {
  let bytes: Uint8Array;
  beforeAll(async () => {
    bytes = await paint('en-GB');
  });

  it.each(CLAUSES)('of $clause sees a file that does not', async (clause) => {
    const sound = await openPdf(bytes);
    clause.plant(sound);
    const spoilt = sound.bytes === bytes ? await openPdf(await sound.pdf.save({ useObjectStreams: false })) : sound;
    expect(clause.faults(spoilt)).not.toEqual([]);
  });
});

it('of each clause stands in the documentation', () => {
  const documented = readFileSync(join(import.meta.dirname, '../../../../docs/paper.md'), 'utf8');
  for (const { clause, asks } of CLAUSES) expect(documented).toContain(`| ${clause} | ${asks} |`);
});

describe('a frozen edition of any version', () => {
  const folder = join(import.meta.dirname, '../../../core/src/page/kept');

  it.each(readdirSync(folder))('%s is painted anew, its headings in order and all of it tagged', async (name) => {
    const { scene } = readFrozen(readFileSync(join(folder, name), 'utf8'));
    const paint = () => paintPdf(scene, shaper, () => new Uint8Array(), new Date(0));
    const bytes = await paint();
    expect(Buffer.compare(bytes, await paint())).toBe(0);
    const file = await openPdf(bytes);
    expect(file.pages).toHaveLength(scene.pages.length);
    const held = CLAUSES.filter((c) => /7\.1-3|7\.1-12|7\.4\.2|6\.6\.3/.test(c.clause));
    for (const clause of held) expect(clause.faults(file), clause.clause).toEqual([]);
  });
});
