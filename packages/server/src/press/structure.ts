import { type Pdf, Raw, type Ref } from './pdfInternals.ts';

interface Element {
  tag: string;
  alt: string | undefined;
  ref: Ref;
  parent: Ref;
  page: Ref;
  kids: (number | Ref)[];
}

/** A text as a PDF string in UTF-16 with its byte order mark (ISO 32000-1 §7.9.2.2). */
function textString(text: string): string {
  let hex = 'feff';
  for (let i = 0; i < text.length; i++) hex += text.charCodeAt(i).toString(16).padStart(4, '0');
  return `<${hex}>`;
}

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

  constructor(private readonly pdf: Pdf) {
    this.root = pdf.ref({});
    this.document = pdf.ref({});
    pdf._root.data.StructTreeRoot = this.root;
    pdf._root.data.MarkInfo = pdf.ref({ Marked: true });
  }

  startPage(): void {
    const page = this.pdf.page.dictionary;
    page.data.StructParents = this.parents.length;
    page.data.Tabs = 'S';
    this.ofPage = [];
    this.pageElement = { tag: 'Sect', alt: undefined, ref: this.pdf.ref(), parent: this.document, page, kids: [] };
    this.sections.push(this.pageElement.ref);
  }

  begin(tag: string, alt: string | undefined): void {
    const parent = this.open.at(-1) ?? this.pageElement!;
    const element = { tag, alt, ref: this.pdf.ref(), parent: parent.ref, page: this.pdf.page.dictionary, kids: [] };
    parent.kids.push(element.ref);
    this.open.push(element);
  }

  end(): void {
    this.done.push(this.open.pop()!);
  }

  /** The operator that begins marked content for what is drawn next. */
  mark(): string {
    const element = this.open.at(-1);
    if (!element) return '/Artifact BMC';
    const id = this.ofPage.length;
    this.ofPage.push(element.ref);
    element.kids.push(id);
    return `/${element.tag} <</MCID ${id}>> BDC`;
  }

  endPage(): void {
    this.done.push(this.pageElement!);
    this.parents.push(`${this.parents.length} [${this.ofPage.join(' ')}]`);
  }

  /** Writes all elements; the root itself is written by pdfkit. */
  finish(): void {
    for (const e of this.done) {
      const alt = e.alt === undefined ? '' : ` /Alt ${textString(e.alt)}`;
      const scope = e.tag === 'TH' ? ' /A << /O /Table /Scope /Column >>' : '';
      e.ref.data = new Raw(
        `<< /Type /StructElem /S /${e.tag} /P ${e.parent} /Pg ${e.page}${alt}${scope} /K [${e.kids.join(' ')}] >>`,
      ) as never;
      e.ref.end();
    }
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
