import type { Op } from '@chronicon/core/page';
import { addObjects, type Pdf, Raw, type Ref, textString } from './pdfInternals.ts';

/** The name that links within the file have for a sheet, by its place from 0. */
export const sheetName = (at: number): string => `sheet-${at}`;

type Open = Extract<Op, { k: 'open' }>;
type Box = [left: number, bottom: number, right: number, top: number];

interface Element {
  tag: string;
  more: Pick<Open, 'alt' | 'scope' | 'link' | 'to' | 'about'>;
  ref: Ref;
  parent: Ref;
  page: Ref;
  kids: (number | Ref | Raw)[];
  /** What is drawn within it, in points of the page from its lower left corner. */
  box: Box | null;
}

/** Hold other elements and no content of their own: what is drawn in them is decoration (ISO 32000-1 §14.8.4.3). */
const GROUPS = new Set(['Table', 'TR', 'L', 'LI']);
const HEADING = /^H(\d)$/;

/** What repeats on every page, as an artifact of its kind (ISO 14289-1 §7.8). */
const RUNNING: Record<string, string> = {
  PageHead: '/Artifact <</Type /Pagination /Subtype /Header /Attached [/Top]>> BDC',
  PageFoot: '/Artifact <</Type /Pagination /Subtype /Footer /Attached [/Bottom]>> BDC',
};
const DECORATION = '/Artifact <</Type /Layout>> BDC';

const boxText = (box: Box): string => `[${box.map((n) => Math.round(n * 100) / 100).join(' ')}]`;

/** Whether an element leads anywhere. */
const leads = ({ more }: Element): boolean => more.link !== undefined || more.to !== undefined;

/**
 * The structure tree of one document: which stretches of the pages' content belong to which element, in reading
 * order (ISO 32000-1 §14.7). Elements are written as raw text: there are hundreds of them.
 */
export class Structure {
  private readonly root: Ref;
  private readonly document: Ref;
  private readonly sections: Ref[] = [];
  private readonly parents: string[] = [];
  private open: Element[] = [];
  private done: Element[] = [];
  private ofPage: Ref[] = [];
  private pageElement: Element | null = null;
  private pageKey = 0;
  private running: string | null = null;
  /** How many stretches within it are open. */
  private within = 0;
  /** Headings that are open, by the levels as they were meant: what is written begins with 1 and leaves none out. */
  private levels: number[] = [];

  constructor(private readonly pdf: Pdf) {
    this.root = pdf.ref({});
    this.document = pdf.ref({});
    pdf._root.data.StructTreeRoot = this.root;
    pdf._root.data.MarkInfo = pdf.ref({ Marked: true });
  }

  /** A place in the parent tree, for a page or an annotation. */
  private keyFor(): number {
    this.parents.push('');
    return this.parents.length - 1;
  }

  startPage(): void {
    const page = this.pdf.page.dictionary;
    this.pageKey = this.keyFor();
    page.data.StructParents = this.pageKey;
    page.data.Tabs = 'S';
    this.ofPage = [];
    this.pageElement = this.elementOf({ k: 'open', tag: 'P' }, this.document, 'Sect');
    this.sections.push(this.pageElement.ref);
  }

  private elementOf({ tag: _, k: __, ...more }: Open, parent: Ref, tag: string): Element {
    return { tag, more, ref: this.pdf.ref(), parent, page: this.pdf.page.dictionary, kids: [], box: null };
  }

  private tagOf(tag: string): string {
    const meant = HEADING.exec(tag)?.[1];
    if (meant === undefined) return tag;
    const level = Number(meant);
    while (this.levels.length > 0 && this.levels.at(-1)! >= level) this.levels.pop();
    this.levels.push(level);
    return `H${this.levels.length}`;
  }

  begin(op: Open): void {
    // What is tagged within a running head or foot is no more read than the rest of it.
    if (this.running) {
      this.within++;
      return;
    }
    if (op.tag in RUNNING) {
      this.running = op.tag;
      return;
    }
    const parent = this.open.at(-1) ?? this.pageElement!;
    const element = this.elementOf(op, parent.ref, this.tagOf(op.tag));
    parent.kids.push(element.ref);
    this.open.push(element);
  }

  end(): void {
    if (this.running) {
      if (this.within === 0) this.running = null;
      else this.within--;
      return;
    }
    const element = this.open.pop()!;
    if (leads(element)) this.annotate(element);
    this.done.push(element);
  }

  /** What is drawn now, for the elements that say where they lie. */
  drawn(box: Box): void {
    for (const e of this.open) {
      if (e.tag !== 'Figure' && !leads(e)) continue;
      e.box = e.box
        ? [
            Math.min(e.box[0], box[0]),
            Math.min(e.box[1], box[1]),
            Math.max(e.box[2], box[2]),
            Math.max(e.box[3], box[3]),
          ]
        : box;
    }
  }

  /** Names where what is drawn next belongs: equal for what may stand in one stretch of marked content. */
  placeOf(isText: boolean): Element | string {
    if (this.running) return RUNNING[this.running]!;
    const element = this.open.at(-1);
    if (!element || GROUPS.has(element.tag)) return DECORATION;
    // Lines and bars beside a text repeat what it says; a figure's are the figure.
    return isText || this.open.some((e) => e.tag === 'Figure') ? element : DECORATION;
  }

  /** The operator that begins marked content there. */
  mark(place: Element | string): string {
    if (typeof place === 'string') return place;
    const id = this.ofPage.length;
    this.ofPage.push(place.ref);
    place.kids.push(id);
    return `/${place.tag} <</MCID ${id}>> BDC`;
  }

  /** A link's place on the page (ISO 32000-1 §12.5.6.5), as a child of its element (ISO 14289-1 §7.18.5). */
  private annotate(element: Element): void {
    if (!element.box) return;
    const key = this.keyFor();
    this.parents[key] = `${key} ${element.ref}`;
    const { link, to, about } = element.more;
    const action = link === undefined ? `/S /GoTo /D ${textString(sheetName(to!))}` : `/S /URI /URI ${uriString(link)}`;
    const annotation = this.pdf.ref(
      new Raw(
        `<< /Type /Annot /Subtype /Link /Rect ${boxText(element.box)} /Border [0 0 0] /F 4 /StructParent ${key} ` +
          `/Contents ${textString(about ?? link ?? '')} /A << ${action} >> >>`,
      ),
    );
    annotation.end();
    const page = this.pdf.page.dictionary.data;
    page.Annots = [...((page.Annots as Ref[] | undefined) ?? []), annotation];
    element.kids.push(new Raw(`<< /Type /OBJR /Obj ${annotation} /Pg ${element.page} >>`));
  }

  endPage(): void {
    this.done.push(this.pageElement!);
    this.parents[this.pageKey] = `${this.pageKey} [${this.ofPage.join(' ')}]`;
  }

  /** Writes all elements; the root itself is written by pdfkit. */
  finish(): void {
    addObjects(
      this.pdf,
      this.done.map((e) => {
        const alt = e.more.alt === undefined ? '' : ` /Alt ${textString(e.more.alt)}`;
        const said = `/Type /StructElem /S /${e.tag} /P ${e.parent} /Pg ${e.page}${alt}${attributesOf(e)}`;
        return [e.ref, `<< ${said} /K [${e.kids.join(' ')}] >>`] as const;
      }),
    );
    Object.assign(this.document.data, { Type: 'StructElem', S: 'Document', P: this.root, K: this.sections });
    this.document.end();
    const tree = this.pdf.ref(new Raw(`<< /Nums [${this.parents.join(' ')}] >>`));
    tree.end();
    Object.assign(this.root.data, {
      Type: 'StructTreeRoot',
      K: [this.document],
      ParentTree: tree,
      ParentTreeNextKey: this.parents.length,
    });
  }
}

/** An address as a PDF string: ASCII, as RFC 3986 wants it; what is written out already stays so. */
const uriString = (uri: string): string =>
  `(${uri.replace(/[^\x21-\x7e]+/g, (c) => encodeURIComponent(Buffer.from(c).toString())).replace(/[()\\]/g, (c) => `\\${c}`)})`;

function attributesOf({ tag, more, box }: Element): string {
  if (tag === 'TH') return ` /A << /O /Table /Scope /${more.scope ?? 'Column'} >>`;
  if (tag === 'L') return ' /A << /O /List /ListNumbering /Disc >>';
  return tag === 'Figure' && box ? ` /A << /O /Layout /BBox ${boxText(box)} >>` : '';
}
