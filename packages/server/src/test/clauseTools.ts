import { type PDFArray, PDFDict, type PDFNumber, PDFRawStream } from '@cantoo/pdf-lib';
import {
  bytesOf,
  dictAt,
  get,
  listAt,
  type Node,
  name,
  nameAt,
  nodesIn,
  type Operator,
  type PdfFile,
} from './pdfFile.ts';

/** A clause of a standard: what it asks, what of a file breaks it, and how to make a file that does. */
export interface Clause {
  clause: string;
  asks: string;
  /** What breaks it; nothing in a file that conforms. */
  faults(file: PdfFile): string[];
  /** Breaks it, and as little else as can be. */
  plant(file: PdfFile): void;
}

export const typed = ({ dicts }: PdfFile, type: string) => dicts.filter((d) => nameAt(d, 'Type') === type);
export const fontsOf = (file: PdfFile) => typed(file, 'Font');
export const fault = (broken: boolean, what: string): string[] => (broken ? [what] : []);
export const first = <T>(list: readonly T[]): T => list[0]!;

/** Changes the words of a page's content. */
export function rewrite(file: PdfFile, change: (content: string) => string): void {
  const page = first(file.pages);
  const stream = PDFRawStream.of(file.pdf.context.obj({}), Buffer.from(change(page.text), 'latin1'));
  page.dict.set(name('Contents'), file.pdf.context.register(stream));
}

export function rewriteXmp({ pdf, catalog, xmp }: PdfFile, change: (xmp: string) => string): void {
  const dict = pdf.context.obj({ Type: 'Metadata', Subtype: 'XML' });
  const stream = PDFRawStream.of(dict, Buffer.from(change(xmp), 'utf8'));
  catalog.set(name('Metadata'), pdf.context.register(stream));
}

export const xmpValue = (xmp: string, tag: string): string | null => {
  const found = new RegExp(`<${tag}>(?:<rdf:\\w+><rdf:li[^>]*>)?([^<]*)<`).exec(xmp);
  return found && found[1]!.replaceAll('&lt;', '<').replaceAll('&gt;', '>').replaceAll('&amp;', '&');
};
export const xmpIs = (tag: string, value: string) => (file: PdfFile) =>
  fault(xmpValue(file.xmp, tag) !== value, `${tag} is ${xmpValue(file.xmp, tag)}`);

export const PAINTING = ['f', 'f*', 'S', 's', 'B', 'B*', 'b', 'b*', 'TJ', 'Tj', 'Do', 'sh'];

/** Walks through a page's content with the marked content that is open around each operator. */
export function marked(
  operators: readonly Operator[],
  visit: (op: Operator, open: readonly Operator[]) => void,
): string[] {
  const open: Operator[] = [];
  for (const op of operators) {
    if (op.name === 'BDC' || op.name === 'BMC') open.push(op);
    else if (op.name === 'EMC') {
      if (open.length === 0) return ['marked content ends that never began'];
      open.pop();
    } else visit(op, open);
  }
  return fault(open.length > 0, 'marked content does not end');
}
export const isArtifact = ({ operands }: Operator) => operands[0] === '/Artifact';
export const mcidOf = ({ operands }: Operator): number | null => {
  const at = operands.indexOf('/MCID');
  return at < 0 ? null : Number(operands[at + 1]);
};

export const codesOf = (op: Operator): number[] =>
  op.operands
    .flatMap((o) => (o.startsWith('<') && o !== '<<' ? (o.slice(1, -1).match(/.{4}/g) ?? []) : []))
    .map((h) => Number.parseInt(h, 16));

/** Codes that are shown in each font, by the name of its resource. */
export function shown(file: PdfFile): Map<PDFDict, Set<number>> {
  const found = new Map<PDFDict, Set<number>>();
  for (const page of file.pages) {
    const fonts = dictAt(dictAt(page.dict, 'Resources')!, 'Font');
    let font: PDFDict | null = null;
    for (const op of page.operators) {
      if (op.name === 'Tf') font = fonts && dictAt(fonts, op.operands[0]!.slice(1));
      if (op.name !== 'TJ' && op.name !== 'Tj') continue;
      const codes = found.get(font!) ?? new Set();
      for (const c of codesOf(op)) codes.add(c);
      found.set(font!, codes);
    }
  }
  return found;
}

export const descendant = (font: PDFDict): PDFDict | null => {
  const [only] = listAt(font, 'DescendantFonts');
  return only instanceof PDFDict ? only : null;
};
export const programOf = (cid: PDFDict): Uint8Array => bytesOf(get(dictAt(cid, 'FontDescriptor')!, 'FontFile2'));

/** The glyph of each code in its font's file: the code itself, or as the map says (ISO 32000-1 §9.7.4.2). */
export function glyphOfCode(cid: PDFDict): (code: number) => number {
  const map = bytesOf(get(cid, 'CIDToGIDMap'));
  if (map.length === 0) return (code) => code;
  return (code) => (map[code * 2]! << 8) | map[code * 2 + 1]!;
}

/** Widths by code, of `W` in the form `[first [w w w]]`. */
export function widthsOf(cid: PDFDict): Map<number, number> {
  const found = new Map<number, number>();
  const list = listAt(cid, 'W');
  for (let i = 0; i + 1 < list.length; i += 2) {
    const from = (list[i] as PDFNumber).asNumber();
    (list[i + 1] as PDFArray).asArray().forEach((w, j) => {
      found.set(from + j, (w as PDFNumber).asNumber());
    });
  }
  return found;
}

export const unicodeOf = (font: PDFDict): Map<number, string> => {
  const text = Buffer.from(bytesOf(get(font, 'ToUnicode'))).toString('latin1');
  return new Map(
    [...text.matchAll(/<([0-9a-f]{4})> <([0-9a-f]*)>/g)].map(([, c, u]) => [Number.parseInt(c!, 16), u!] as const),
  );
};

export const STANDARD_TAGS = new Set(
  'Document Part Sect Div P H1 H2 H3 H4 H5 H6 L LI Lbl LBody Table TR TH TD THead TBody Figure Link Span Caption Note'.split(
    ' ',
  ),
);
export const all = (file: PdfFile, tag: string): Node[] => nodesIn(file.tree).filter((n) => n.tag === tag);
export const parentsOf = (file: PdfFile) =>
  new Map(nodesIn(file.tree).flatMap((n) => n.kids.map((k) => [k, n] as const)));
export const attribute = ({ dict }: Node, key: string) => {
  for (const a of listAt(dict, 'A')) if (a instanceof PDFDict && get(a, key)) return get(a, key)!;
  return null;
};

export const A = 'ISO 19005-3';
export const UA = 'ISO 14289-1';

/** Whether decoration stands within what is read, or what is read within decoration. */
export function nested(operators: readonly Operator[]): boolean {
  const open: Operator[] = [];
  for (const op of operators) {
    if (op.name === 'EMC') open.pop();
    if (op.name !== 'BDC' && op.name !== 'BMC') continue;
    const isRead = (o: Operator) => mcidOf(o) !== null;
    if (isArtifact(op) && open.some(isRead)) return true;
    if (isRead(op) && open.some(isArtifact)) return true;
    open.push(op);
  }
  return false;
}
