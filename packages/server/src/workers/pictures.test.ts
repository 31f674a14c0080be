import { mkdtempSync, readdirSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { crc32, deflateSync } from 'node:zlib';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { type Files, openFiles } from '../store/files.ts';
import { createPictures, type Pictures } from './pictures.ts';

let pictures: Pictures;
let files: Files;
const folder = mkdtempSync(join(tmpdir(), 'chronicon-pictures-'));

beforeAll(() => {
  pictures = createPictures();
  files = openFiles(folder, Date.now());
});
afterAll(async () => {
  await pictures.close();
  rmSync(folder, { recursive: true, force: true });
});

const kept = () =>
  readdirSync(join(folder, 'files'), { recursive: true, withFileTypes: true }).filter((e) => e.isFile());
const read = (data: Buffer) => pictures.readLogo(data, files);

function chunk(type: string, data: Buffer): Buffer {
  const head = Buffer.alloc(4);
  head.writeUInt32BE(data.length);
  const body = Buffer.concat([Buffer.from(type, 'latin1'), data]);
  const crc = Buffer.alloc(4);
  crc.writeUInt32BE(crc32(body));
  return Buffer.concat([head, body, crc]);
}

/** A PNG by hand: whatever its head says, and whatever its image data is. */
function png(width: number, height: number, colour: number, image: Buffer, ...more: Buffer[]): Buffer {
  const head = Buffer.alloc(13);
  head.writeUInt32BE(width, 0);
  head.writeUInt32BE(height, 4);
  head[8] = colour === 3 ? 1 : 8;
  head[9] = colour;
  return Buffer.concat([
    Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]),
    chunk('IHDR', head),
    ...more,
    chunk('IDAT', image),
    chunk('IEND', Buffer.alloc(0)),
  ]);
}

describe('a picture that is built to do harm', () => {
  it.each<[string, () => Buffer]>([
    [
      'whose image data is cut short, under a filter that there is not',
      () => png(1, 1, 2, Buffer.from([0x78, 0x9c, 9])),
    ],
    ['with filter type 9', () => png(4, 4, 2, deflateSync(Buffer.alloc(52, 9)))],
    ['without any image data', () => png(4, 4, 2, Buffer.alloc(0))],
    ['with fewer rows than it says', () => png(400, 400, 2, deflateSync(Buffer.alloc(20)))],
    ['that is a JPEG by its first bytes alone', () => Buffer.from([0xff, 0xd8, 0xff, 0xe0, 0, 16])],
    ['that ends in its head', () => png(4, 4, 2, deflateSync(Buffer.alloc(52))).subarray(0, 30)],
  ])('%s is refused in words, and nothing of it is kept', async (_, make) => {
    await expect(read(make())).rejects.toThrow(/damaged|cannot be printed/);
    expect(kept()).toEqual([]);
  });

  it.each<[string, number, number]>([
    ['in colours', 20_000, 2],
    ['in a palette', 20_000, 3],
    ['wide beyond all use', 60_000, 2],
  ])('of a few bytes that would be gigabytes once decoded (%s) is refused by its head', async (_, side, colour) => {
    const palette = colour === 3 ? [chunk('PLTE', Buffer.from([0, 0, 0, 255, 255, 255]))] : [];
    const bomb = png(side, side, colour, deflateSync(Buffer.alloc(1_000)), ...palette);
    await expect(read(bomb)).rejects.toThrow(`${side} × ${side} points large`);
    expect(kept()).toEqual([]);
  });

  it('leaves the reader of pictures as it was: the next one is read', async () => {
    const good = await sharp({ create: { width: 40, height: 20, channels: 4, background: '#2f6b3a' } })
      .png()
      .toBuffer();
    expect(await read(good)).toMatchObject({ kind: 'image', type: 'image/png', width: 40, height: 20 });
  });
});

describe('a picture that is kept', () => {
  it('was decoded and written anew: nothing hidden in what was sent comes through', async () => {
    const clean = await sharp({ create: { width: 30, height: 30, channels: 3, background: '#a86a12' } })
      .png()
      .toBuffer();
    const hiding = Buffer.concat([clean, Buffer.from('<script>alert(1)</script>')]);
    const logo = await read(hiding);
    if (logo.kind !== 'image') throw new Error('no image');
    expect(files.read(logo.file).toString('latin1')).not.toContain('script');
  });

  it('is no larger than print needs', async () => {
    const large = await sharp({ create: { width: 5_000, height: 1_000, channels: 3, background: '#0f5e6b' } })
      .jpeg()
      .toBuffer();
    expect(await read(large)).toMatchObject({ type: 'image/jpeg', width: 2_400, height: 480 });
  });
});

describe('a logo that would vanish on white paper', () => {
  const words = (fill: string) =>
    Buffer.from(`<svg width="300" height="80"><text x="5" y="60" font-size="60" fill="${fill}">Skerry</text></svg>`);
  const drawing = (fill: string) => sharp(words(fill)).png().toBuffer();
  const picture = (ground: string, fill: string) =>
    sharp({ create: { width: 300, height: 80, channels: 3, background: ground } })
      .composite([{ input: words(fill) }])
      .jpeg()
      .toBuffer();

  it.each([
    ['white on nothing', () => drawing('#ffffff'), true],
    ['cream on nothing', () => drawing('#fff4e0'), true],
    ['yellow on nothing', () => drawing('#ffee33'), true],
    ['black on nothing', () => drawing('#000000'), false],
    ['petrol on nothing', () => drawing('#0f5e6b'), false],
    ['cream on white', () => picture('#ffffff', '#fffdf5'), true],
    ['black on white', () => picture('#ffffff', '#000000'), false],
    ['white on black', () => picture('#000000', '#ffffff'), false],
  ])('is known when it is brought: %s', async (_, make, pale) => {
    expect(await read(await make())).toMatchObject({ kind: 'image', pale });
  });
});

describe('a drawing', () => {
  const svg = (inside: string) =>
    Buffer.from(`<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 10 10">${inside}</svg>`);

  it.each<[string, () => Buffer, RegExp]>([
    [
      '8,000 groups deep',
      () => svg(`${'<g transform="scale(1)">'.repeat(8_000)}<path d="M0 0L1 1"/>${'</g>'.repeat(8_000)}`),
      /nests more than/,
    ],
    ['of 5,000 shapes', () => svg('<rect width="1" height="1"/>'.repeat(5_000)), /more than 2000 elements/],
    ['of one endless path', () => svg(`<path d="M0 0${'L1 1'.repeat(100_000)}"/>`), /paths of more than/],
    ['larger than it may be', () => svg(' '.repeat(1_100_000)), /larger than 1 MB/],
  ])('%s is refused at once', async (_, make, words) => {
    const began = performance.now();
    await expect(read(make())).rejects.toThrow(words);
    expect(performance.now() - began).toBeLessThan(8_000);
  });

  it('of plain shapes becomes paths', async () => {
    expect(await read(svg('<g><rect width="4" height="4" fill="#ff0000"/></g>'))).toMatchObject({
      kind: 'vector',
      paths: [{ fill: '#ff0000' }],
    });
  });
});
