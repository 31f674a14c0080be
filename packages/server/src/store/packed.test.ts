import { brotliCompressSync } from 'node:zlib';
import { describe, expect, it } from 'vitest';
import { packed, unpacked } from './packed.ts';

const cid = `${'a'.repeat(64)}@mail`;

describe('packed mails', () => {
  it('come out as they went in, with the pictures that they name', async () => {
    const said = { html: `<img src="cid:${cid}">`, text: 'Good morning', pictures: [cid] };
    expect(unpacked(await packed(said))).toEqual(said);
  });

  it('take for pictures what was said to be one, not what a reader wrote', async () => {
    const said = { html: `<p>src="cid:${cid}"</p>`, text: '', pictures: [] };
    expect(unpacked(await packed(said)).pictures).toEqual([]);
  });

  it('of earlier versions name every picture of their HTML once', () => {
    const html = `<img src="cid:${cid}"><img src="cid:${cid}"><img src="cid:no@mail">`;
    expect(unpacked(brotliCompressSync(JSON.stringify([html, ''])))).toEqual({ html, text: '', pictures: [cid] });
  });
});
