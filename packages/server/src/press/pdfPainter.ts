import { type Op, rgbOf, type Scene, type SceneFace } from '@chronicon/core/page';
import { LRUCache } from 'lru-cache';
import { EmbeddedFont } from './embeddedFont.ts';
import { createPdf, type Pdf } from './pdfInternals.ts';
import { remember } from './remember.ts';
import type { Shaper } from './shaper.ts';
import { Structure } from './structure.ts';

/** Reads a picture of the data folder by its SHA-256. */
export type ReadImage = (file: string) => Uint8Array;

const num = (n: number): string => String(Math.round(n * 1000) / 1000);

/** Rules, marks and colours are the same in document after document. */
const KEPT = 5_000;
const colours = new LRUCache<string, string>({ max: KEPT });
const paths = new LRUCache<string, string>({ max: KEPT });
const colour = (hex: string): string =>
  remember(colours, hex, () =>
    rgbOf(hex)
      .map((v) => num(v / 255))
      .join(' '),
  );

/** An absolute path of M, L, C, Q and Z as PDF operators; a quadratic curve becomes the cubic that equals it. */
function makePath(d: string): string {
  const out: string[] = [];
  let x = 0;
  let y = 0;
  for (const [, command, rest] of d.matchAll(/([MLCQZ])([^MLCQZ]*)/g)) {
    const n = (rest!.match(/-?(?:\d+\.?\d*|\.\d+)(?:e-?\d+)?/gi) ?? []).map(Number);
    if (command === 'Z') out.push('h');
    const step = { M: 2, L: 2, Q: 4, C: 6, Z: 1 }[command!]!;
    for (let i = 0; i + step <= n.length; i += step) {
      const p = n.slice(i, i + step);
      if (command === 'Q') {
        const [cx, cy, ex, ey] = p as [number, number, number, number];
        const c = [x + (2 / 3) * (cx - x), y + (2 / 3) * (cy - y), ex + (2 / 3) * (cx - ex), ey + (2 / 3) * (cy - ey)];
        out.push(`${[...c, ex, ey].map(num).join(' ')} c`);
      } else out.push(`${p.map(num).join(' ')} ${command === 'M' && i === 0 ? 'm' : command === 'C' ? 'c' : 'l'}`);
      [x, y] = p.slice(-2) as [number, number];
    }
  }
  return out.join('\n');
}

const pathOperators = (d: string): string => remember(paths, d, () => makePath(d));

class PagePainter {
  private readonly out: string[] = [];
  private marked = false;

  constructor(
    private readonly pdf: Pdf,
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
        if (op.k === 'open') this.structure.begin(op.tag, op.alt);
        else this.structure.end();
        continue;
      }
      if (!this.marked) {
        this.out.push(this.structure.mark());
        this.marked = true;
      }
      this.draw(op);
    }
    this.unmark();
    this.flush();
    this.structure.endPage();
  }

  private unmark(): void {
    if (this.marked) this.out.push('EMC');
    this.marked = false;
  }

  private flush(): void {
    if (this.out.length > 0) this.pdf.addContent(this.out.splice(0).join('\n'));
  }

  private draw(op: Exclude<Op, { k: 'open' | 'close' }>): void {
    switch (op.k) {
      case 'text': {
        const font = this.fontOf(op.face);
        const shown = font.show(this.shaper.shape(op.face, op.text));
        this.out.push(
          `BT /${op.face} ${num(op.size)} Tf ${colour(op.fill)} rg 1 0 0 -1 ${num(op.x)} ${num(op.y)} Tm ${shown} TJ ET`,
        );
        break;
      }
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

  private path(op: Extract<Op, { k: 'path' }>): void {
    const dashed = op.dash ? `[${op.dash.join(' ')}] 0 d ` : '';
    const state: string[] = ['q'];
    if (op.opacity !== undefined) state.push(`/${this.opacity(op.opacity)} gs`);
    if (op.fill) state.push(`${colour(op.fill)} rg`);
    if (op.stroke) state.push(`${colour(op.stroke)} RG ${num(op.width ?? 1)} w 1 j ${dashed}`);
    const rule = op.evenOdd ? '*' : '';
    const paint = op.fill && op.stroke ? `B${rule}` : op.fill ? `f${rule}` : 'S';
    this.out.push(`${state.join(' ')}\n${pathOperators(op.d)}\n${paint} Q`);
  }

  private fontOf(face: SceneFace): EmbeddedFont {
    let font = this.fonts.get(face);
    if (!font) {
      font = new EmbeddedFont(this.pdf, face);
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
 * Draws a scene as a tagged PDF with real text, bookmarks, language and title. The same scene, pictures and date
 * give the same bytes in every process.
 * @param created goes into the file's metadata; an edition's own instant, not the moment of drawing
 */
export async function paintPdf(scene: Scene, shaper: Shaper, readImage: ReadImage, created: Date): Promise<Buffer> {
  const pdf = await createPdf({ title: scene.title, author: scene.author, lang: scene.lang, created });
  const chunks: Buffer[] = [];
  const ended = new Promise<void>((resolve, reject) => {
    pdf.on('data', (chunk: Buffer) => chunks.push(chunk));
    pdf.on('end', resolve);
    pdf.on('error', reject);
  });
  const structure = new Structure(pdf);
  const fonts = new Map<SceneFace, EmbeddedFont>();
  let bookmarked = '';
  for (const page of scene.pages) {
    pdf.addPage({ size: [page.width, page.height], margin: 0 });
    if (page.title !== bookmarked) pdf.outline.addItem(page.title);
    bookmarked = page.title;
    new PagePainter(pdf, shaper, structure, fonts, readImage).paint(page.ops);
  }
  for (const font of fonts.values()) font.finish();
  structure.finish();
  pdf.end();
  await ended;
  return Buffer.concat(chunks);
}
