import { type Op, rgbOf, type Scene, type SceneFace } from '@chronicon/core/page';
import { LRUCache } from 'lru-cache';
import { EmbeddedFont } from './embeddedFont.ts';
import { fromCache } from './fromCache.ts';
import {
  addContent,
  attachFile,
  createPdf,
  gather,
  type OutlineItem,
  type Pdf,
  sealPage,
  textString,
} from './pdfInternals.ts';
import type { Shaped, Shaper } from './shaper.ts';
import { Structure, sheetName } from './structure.ts';

/** Reads a picture of the data folder by its SHA-256. */
export type ReadImage = (file: string) => Uint8Array;

const num = (n: number): string => String(Math.round(n * 1000) / 1000);

/** Rules, marks and colours are the same in document after document. */
const KEPT = 5_000;
const colours = new LRUCache<string, string>({ max: KEPT });
const paths = new LRUCache<string, Path>({ max: KEPT });
const colour = (hex: string): string =>
  fromCache(colours, hex, () =>
    rgbOf(hex)
      .map((v) => num(v / 255))
      .join(' '),
  );

/** A path as operators, and the box of its points: left, top, right, bottom. */
interface Path {
  operators: string;
  box: [number, number, number, number];
}

/** An absolute path of M, L, C, Q and Z as PDF operators; a quadratic curve becomes the cubic that equals it. */
function makePath(d: string): Path {
  const out: string[] = [];
  const xs: number[] = [];
  const ys: number[] = [];
  let x = 0;
  let y = 0;
  for (const [, command, rest] of d.matchAll(/([MLCQZ])([^MLCQZ]*)/g)) {
    const n = (rest!.match(/-?(?:\d+\.?\d*|\.\d+)(?:e-?\d+)?/gi) ?? []).map(Number);
    if (command === 'Z') out.push('h');
    const step = { M: 2, L: 2, Q: 4, C: 6, Z: 1 }[command!]!;
    for (let i = 0; i + step <= n.length; i += step) {
      const p = n.slice(i, i + step);
      p.forEach((v, j) => {
        (j % 2 === 0 ? xs : ys).push(v);
      });
      if (command === 'Q') {
        const [cx, cy, ex, ey] = p as [number, number, number, number];
        const c = [x + (2 / 3) * (cx - x), y + (2 / 3) * (cy - y), ex + (2 / 3) * (cx - ex), ey + (2 / 3) * (cy - ey)];
        out.push(`${[...c, ex, ey].map(num).join(' ')} c`);
      } else out.push(`${p.map(num).join(' ')} ${command === 'M' && i === 0 ? 'm' : command === 'C' ? 'c' : 'l'}`);
      [x, y] = p.slice(-2) as [number, number];
    }
  }
  return { operators: out.join('\n'), box: [Math.min(...xs), Math.min(...ys), Math.max(...xs), Math.max(...ys)] };
}

const pathOf = (d: string): Path => fromCache(paths, d, () => makePath(d));

type Drawing = Exclude<Op, { k: 'open' | 'close' }>;

/** Where a primitive lies: left, top, right, bottom, in points from the top left corner. */
function boxOf(op: Drawing): [number, number, number, number] {
  switch (op.k) {
    case 'text':
      return [op.x, op.y - op.size * 0.8, op.x + op.w, op.y + op.size * 0.2];
    case 'path':
      return pathOf(op.d).box;
    default:
      return [op.x, op.y, op.x + op.w, op.y + op.h];
  }
}

/** The language of what a face lends letters to, where the script alone tells it (BCP 47). */
const LANGUAGE_OF: Partial<Record<SceneFace, string>> = Object.fromEntries(
  (
    [
      ['hebrew', 'he'],
      ['arabic', 'ar'],
      ['thai', 'th'],
      ['japanese', 'ja'],
      ['korean', 'ko'],
      ['chinese', 'zh'],
    ] as const
  ).flatMap(([face, language]) => [
    [face, language],
    [`${face}Bold`, language],
  ]),
);

class PagePainter {
  private readonly out: string[] = [];
  private place: ReturnType<Structure['placeOf']> | null = null;

  constructor(
    private readonly pdf: Pdf,
    private readonly height: number,
    private readonly language: string,
    private readonly shaper: Shaper,
    private readonly structure: Structure,
    private readonly fonts: Map<SceneFace, EmbeddedFont>,
    private readonly readImage: ReadImage,
  ) {}

  paint(ops: readonly Op[]): void {
    this.structure.startPage();
    for (const op of ops) {
      if (op.k === 'open' || op.k === 'close') {
        this.unmark();
        if (op.k === 'open') this.structure.begin(op);
        else this.structure.end();
        continue;
      }
      const place = this.structure.placeOf(op.k === 'text' || op.k === 'image');
      if (place !== this.place) {
        this.unmark();
        this.out.push(this.structure.mark(place));
        this.place = place;
      }
      const [left, top, right, bottom] = boxOf(op);
      this.structure.drawn([left, this.height - bottom, right, this.height - top]);
      this.draw(op);
    }
    this.unmark();
    this.flush();
    sealPage(this.pdf);
    this.structure.endPage();
  }

  private unmark(): void {
    if (this.place !== null) this.out.push('EMC');
    this.place = null;
  }

  private flush(): void {
    if (this.out.length > 0) addContent(this.pdf, this.out.splice(0).join('\n'));
  }

  private draw(op: Drawing): void {
    switch (op.k) {
      case 'text':
        this.text(op);
        break;
      case 'rect':
        this.out.push(`${colour(op.fill)} rg ${[op.x, op.y, op.w, op.h].map(num).join(' ')} re f`);
        break;
      case 'path':
        this.path(op);
        break;
      case 'image':
        this.flush();
        this.pdf.image(Buffer.from(this.readImage(op.file)), op.x, op.y, { width: op.w, height: op.h });
        break;
    }
  }

  private text(op: Extract<Op, { k: 'text' }>): void {
    const shaped = this.shaper.shape(op.face, op.text, op.rtl);
    const shown = this.fontOf(op.face).show(shaped, op.size);
    const span = this.spanOf(op, shaped);
    const begin = span === '' ? '' : `/Span <<${span}>> BDC `;
    this.out.push(
      `${begin}BT /${op.face} ${num(op.size)} Tf ${colour(op.fill)} rg 1 0 0 -1 ${num(op.x)} ${num(op.y)} Tm ${shown} ET${span === '' ? '' : ' EMC'}`,
    );
  }

  /** What has to be said of a run whose language is another one, or whose glyphs do not stand for one character each. */
  private spanOf({ face, text, rtl }: Extract<Op, { k: 'text' }>, { glyphs }: Shaped): string {
    const language = LANGUAGE_OF[face];
    const isForeign = language !== undefined && !this.language.startsWith(language);
    // What is read from right to left is put in order by readers, letter by letter.
    const isJoined = !rtl && glyphs.some((g) => g.text === '' && g.advance !== 0);
    return `${isForeign ? `/Lang (${language})` : ''}${isJoined ? ` /ActualText ${textString(text)}` : ''}`.trim();
  }

  private path(op: Extract<Op, { k: 'path' }>): void {
    const dashed = op.dash ? `[${op.dash.join(' ')}] 0 d ` : '';
    const state: string[] = ['q'];
    if (op.opacity !== undefined) state.push(`/${this.opacity(op.opacity)} gs`);
    if (op.fill) state.push(`${colour(op.fill)} rg`);
    if (op.stroke) state.push(`${colour(op.stroke)} RG ${num(op.width ?? 1)} w 1 j ${dashed}`);
    const rule = op.evenOdd ? '*' : '';
    const paint = op.fill && op.stroke ? `B${rule}` : op.fill ? `f${rule}` : 'S';
    this.out.push(`${state.join(' ')}\n${pathOf(op.d).operators}\n${paint} Q`);
  }

  private fontOf(face: SceneFace): EmbeddedFont {
    let font = this.fonts.get(face);
    if (!font) {
      font = new EmbeddedFont(this.pdf, face, this.shaper);
      this.fonts.set(face, font);
    }
    this.pdf.page.fonts[face] ??= font.ref;
    return font;
  }

  private opacity(value: number): string {
    const name = `A${Math.round(value * 1000)}`;
    const states = this.pdf.page.ext_gstates;
    if (!states[name]) {
      const state = this.pdf.ref({ Type: 'ExtGState', ca: value, CA: value });
      state.end();
      states[name] = state;
    }
    return name;
  }
}

/**
 * Draws a scene as a tagged PDF (PDF/UA-1, PDF/A-3b; docs/paper.md) with real text, bookmarks, language and title. The
 * same scene, pictures and date give the same bytes in every process.
 * @param created goes into the file's metadata; an edition's own instant, not the moment of drawing
 */
export async function paintPdf(scene: Scene, shaper: Shaper, readImage: ReadImage, created: Date): Promise<Buffer> {
  const pdf = await createPdf({ title: scene.title, author: scene.author, lang: scene.lang, created });
  const file = gather(pdf);
  const structure = new Structure(pdf);
  const fonts = new Map<SceneFace, EmbeddedFont>();
  let bookmark = null as { title: string; item: OutlineItem; blocks: Set<string> } | null;
  // Sheets that a table of contents leads to.
  const targets = new Set(
    scene.pages.flatMap((p) => p.ops.flatMap((op) => (op.k === 'open' && op.to !== undefined ? [op.to] : []))),
  );
  for (const [at, page] of scene.pages.entries()) {
    pdf.addPage({ size: [page.width, page.height], margin: 0 });
    if (targets.has(at)) pdf.addNamedDestination(sheetName(at), 'Fit');
    if (page.title !== bookmark?.title) {
      const item = pdf.outline.addItem(page.title, { expanded: true });
      bookmark = { title: page.title, item, blocks: new Set() };
    }
    for (const { id, name, y } of page.blocks) {
      // One that goes on over several sheets is found where it begins.
      if (name === undefined || bookmark.blocks.has(id)) continue;
      bookmark.blocks.add(id);
      bookmark.item.addItem(name, { top: Math.max(0, y - 12) });
    }
    new PagePainter(pdf, page.height, scene.lang, shaper, structure, fonts, readImage).paint(page.ops);
  }
  for (const font of fonts.values()) font.finish();
  structure.finish();
  for (const { name, text, about } of scene.attached ?? []) {
    attachFile(pdf, text, {
      name,
      type: 'text/csv',
      description: about,
      relationship: 'Data',
      creationDate: created,
      modifiedDate: created,
    });
  }
  pdf.end();
  return await file;
}
