import { createHash } from 'node:crypto';
import { answerAll, keyOf, metricBook, NO_SETTINGS, valueOfAnswer } from '@chronicon/core/figures';
import type { Scene } from '@chronicon/core/page';
import { GALLERY_DATES, galleryFacts } from '@chronicon/core/page/gallery';
import { A4, documentFrom } from '@chronicon/core/report';
import { formatterOf, wordsFor } from '@chronicon/core/words';
import { getDocument } from 'pdfjs-dist/legacy/build/pdf.mjs';
import { describe, expect, it } from 'vitest';
import { layOut, questionsFor } from './draw.ts';
import { paintPdf } from './pdfPainter.ts';
import { createShaper } from './shaper.ts';

const shaper = createShaper();
const noImage = () => new Uint8Array();
const created = new Date('2026-11-02T08:00:00Z');

function sceneOf(texts: string[]): Scene {
  return {
    version: 1,
    lang: 'en-GB',
    title: 'Smith & Sons <October>',
    author: 'Fernglass',
    pages: [
      {
        title: 'Overview',
        width: 595.28,
        height: 841.89,
        blocks: [],
        ops: texts.flatMap((text, i) => {
          let x = 50;
          return [
            { k: 'open' as const, tag: 'P' as const },
            ...shaper.runs('sans', text, { direction: 'ltr', language: 'en-GB', standIn: 'sans' }).map((run) => {
              const op = {
                k: 'text' as const,
                x,
                y: 60 + i * 20,
                w: run.advance * 10,
                face: run.face,
                size: 10,
                fill: '#000000',
                text: run.text,
              };
              x += op.w;
              return op;
            }),
            { k: 'close' as const },
          ];
        }),
      },
    ],
  };
}

async function read(pdf: Buffer) {
  const document = await getDocument({ data: new Uint8Array(pdf), useSystemFonts: false }).promise;
  const page = await document.getPage(1);
  const content = await page.getTextContent();
  const items = content.items.flatMap((i) => ('str' in i ? [i] : []));
  const metadata = await document.getMetadata();
  return {
    text: items.map((i) => i.str).join(''),
    items,
    metadata,
    tree: await page.getStructTree(),
    outline: await document.getOutline(),
    pages: document.numPages,
  };
}

/** The reader gives every kind of space as a plain one. */
const plain = (s: string) => s.normalize('NFC').replace(/[\u00a0\u202f\u2009]/g, ' ');

describe('the PDF painter', () => {
  it('writes text that can be copied, accents, no-break spaces and ligatures included, in many documents in a row', async () => {
    const lines = [
      'naïve façade — Łódź',
      '12\u00a0345\u202f€ no-break',
      'office affluent fjord',
      'Ζεύς и мир',
      'plain spaces here',
    ];
    for (let i = 0; i < 12; i++) {
      const { text } = await read(
        await paintPdf(sceneOf(i % 2 === 0 ? lines : [...lines].reverse()), shaper, noImage, created),
      );
      for (const line of lines) expect(plain(text)).toContain(plain(line));
    }
  });

  it('lends characters that a face lacks from another one', async () => {
    const { text } = await read(await paintPdf(sceneOf(['Price in ₿ and Ꞌ here']), shaper, noImage, created));
    expect(text).toContain('Price in');
    expect(text).toContain('here');
  });

  it('places runs where the scene says, and as wide as the ruler said', async () => {
    const scene = sceneOf(['Visits and Waves AVAT To.']);
    const { items } = await read(await paintPdf(scene, shaper, noImage, created));
    const [item] = items.filter((i) => i.str.startsWith('Visits'));
    const op = scene.pages[0]!.ops.find((o) => o.k === 'text')!;
    if (op.k !== 'text') throw new Error('no text');
    expect(item!.transform[4]).toBeCloseTo(op.x, 1);
    expect(841.89 - item!.transform[5]!).toBeCloseTo(op.y, 1);
    expect(item!.width).toBeCloseTo(op.w, 0);
  });

  it('gives the same bytes for the same scene and date', async () => {
    const hash = async () =>
      createHash('sha256')
        .update(await paintPdf(sceneOf(['Same']), createShaper(), noImage, created))
        .digest('hex');
    expect(await hash()).toBe(await hash());
  });

  it('carries title, language, tags and bookmarks; metadata is escaped', async () => {
    const { metadata, tree, outline } = await read(await paintPdf(sceneOf(['Hello']), shaper, noImage, created));
    expect((metadata.info as { Title: string }).Title).toBe('Smith & Sons <October>');
    expect((metadata.info as { Language: string }).Language).toBe('en-GB');
    expect(metadata.metadata?.get('dc:title')).toBe('Smith & Sons <October>');
    expect(JSON.stringify(tree)).toContain('"role":"P"');
    expect(outline.map((o) => o.title)).toEqual(['Overview']);
  });

  it('draws a whole report with its figures, every text of the scene on its page', async () => {
    let ids = 0;
    const order = {
      clientId: 'c',
      clientName: 'Mosswick Botanic Garden',
      agencyName: 'Fernglass Media',
      manager: { name: 'Ines Tallow', email: 'ines.tallow@fernglass.example' },
      asOf: '2026-11-02',
      paper: A4,
      title: 'Monthly overview',
      document: documentFrom('shop', wordsFor('fr'), () => `b${ids++}`),
      period: GALLERY_DATES.period,
      compared: GALLERY_DATES.compared,
      brand: { main: '#2f6b3a', second: '#b8862d', footer: 'Fernglass', logo: null },
      metrics: NO_SETTINGS,
      targets: [],
      holidays: [],
      dayNotes: [],
      commentary: {},
      mailMetrics: [],
      language: 'fr-FR',
      currency: 'EUR',
    };
    const questions = questionsFor(order);
    const facts = galleryFacts('full', metricBook(NO_SETTINGS));
    const answers = answerAll(questions, facts);
    const scene = layOut(order, answers, shaper);
    const document = await getDocument({
      data: new Uint8Array(await paintPdf(scene, shaper, noImage, created)),
      useSystemFonts: false,
    }).promise;
    expect(document.numPages).toBe(scene.pages.length);
    for (const [i, page] of scene.pages.entries()) {
      const { items } = await (await document.getPage(i + 1)).getTextContent();
      const text = plain(items.map((x) => ('str' in x ? x.str : '')).join(''));
      for (const op of page.ops) if (op.k === 'text') expect(text).toContain(plain(op.text.trim()));
    }
    // Figures stand there, none of the reasons for which one would be missing; and what is drawn has lines.
    const said = scene.pages.flatMap((p) => p.ops.flatMap((op) => (op.k === 'text' ? [op.text] : [])));
    const visits = valueOfAnswer(answers[keyOf(questions.find((q) => q.op === 'total' && q.metric === 'visits')!)]);
    expect(said).toContain(formatterOf('fr-FR', 'EUR').figure((visits as { value: number }).value, 'count'));
    for (const reason of Object.values(wordsFor('fr').reasons)) expect(said).not.toContain(reason);
    expect(scene.pages.some((p) => p.ops.some((op) => op.k === 'path'))).toBe(true);
  });
});
