import {
  decodePDFRawStream,
  PDFArray,
  PDFBool,
  PDFDict,
  PDFDocument,
  PDFHexString,
  PDFName,
  PDFNumber,
  type PDFObject,
  PDFRawStream,
  PDFRef,
  PDFString,
} from '@cantoo/pdf-lib';

/** One operator of a page's content with its operands, as they stand in the file. */
export interface Operator {
  name: string;
  operands: string[];
}

/** An element of the structure tree. */
export interface Node {
  tag: string;
  dict: PDFDict;
  kids: Node[];
  /** Marked content and objects that it holds. */
  holds: ('mcid' | 'object')[];
}

/** A PDF as a library reads it that had no part in making it. */
export interface PdfFile {
  bytes: Uint8Array;
  pdf: PDFDocument;
  catalog: PDFDict;
  /** Everything in the file that is a dictionary, or has one. */
  dicts: PDFDict[];
  pages: { dict: PDFDict; operators: Operator[]; text: string }[];
  xmp: string;
  tree: Node[];
}

export const name = (key: string) => PDFName.of(key);
export const get = (dict: PDFDict, key: string): PDFObject | undefined => dict.lookup(name(key));
export const dictAt = (dict: PDFDict, key: string): PDFDict | null => {
  const found = get(dict, key);
  return found instanceof PDFDict ? found : found instanceof PDFRawStream ? found.dict : null;
};
export const listAt = (dict: PDFDict, key: string): PDFObject[] => {
  const found = get(dict, key);
  if (found instanceof PDFArray) return found.asArray().map((o) => (o instanceof PDFRef ? dict.context.lookup(o)! : o));
  return found === undefined ? [] : [found];
};
export const nameAt = (dict: PDFDict, key: string): string | null => {
  const found = get(dict, key);
  return found instanceof PDFName ? found.decodeText() : null;
};
export const numberAt = (dict: PDFDict, key: string): number | null => {
  const found = get(dict, key);
  return found instanceof PDFNumber ? found.asNumber() : null;
};
export const textAt = (dict: PDFDict, key: string): string | null => {
  const found = get(dict, key);
  return found instanceof PDFString || found instanceof PDFHexString ? found.decodeText() : null;
};
export const isTrue = (dict: PDFDict, key: string): boolean => get(dict, key) === PDFBool.True;

export const bytesOf = (stream: PDFObject | undefined): Uint8Array =>
  stream instanceof PDFRawStream ? decodePDFRawStream(stream).decode() : new Uint8Array();

/** Takes a content stream apart: strings, names, arrays and dictionaries are operands, bare words operators. */
export function operatorsOf(content: string): Operator[] {
  const token = /\((?:\\.|[^\\()])*\)|<<|>>|<[0-9a-fA-F\s]*>|\[|\]|\/[^\s()<>[\]{}/%]*|[^\s()<>[\]{}/%]+/g;
  const found: Operator[] = [];
  let operands: string[] = [];
  let depth = 0;
  for (const [t] of content.matchAll(token)) {
    if (t === '[' || t === '<<') depth++;
    if (t === ']' || t === '>>') depth--;
    if (depth === 0 && /^[A-Za-z'"*]+\d?\*?$/.test(t) && !['true', 'false', 'null'].includes(t)) {
      found.push({ name: t, operands });
      operands = [];
    } else operands.push(t);
  }
  return found;
}

function nodeOf(dict: PDFDict): Node {
  const kids: Node[] = [];
  const holds: Node['holds'] = [];
  for (const kid of listAt(dict, 'K')) {
    if (kid instanceof PDFNumber) holds.push('mcid');
    else if (kid instanceof PDFDict && nameAt(kid, 'Type') === 'OBJR') holds.push('object');
    else if (kid instanceof PDFDict && nameAt(kid, 'Type') === 'MCR') holds.push('mcid');
    else if (kid instanceof PDFDict) kids.push(nodeOf(kid));
  }
  return { tag: nameAt(dict, 'S') ?? '', dict, kids, holds };
}

export async function openPdf(bytes: Uint8Array): Promise<PdfFile> {
  const pdf = await PDFDocument.load(bytes, { updateMetadata: false });
  const { catalog } = pdf;
  const dicts = pdf.context
    .enumerateIndirectObjects()
    .flatMap(([, o]) => (o instanceof PDFDict ? [o] : o instanceof PDFRawStream ? [o.dict] : []));
  const pages = pdf.getPages().map(({ node }) => {
    const contents = node.lookup(name('Contents'));
    const streams = contents instanceof PDFArray ? contents.asArray().map((r) => pdf.context.lookup(r)) : [contents];
    const text = streams.map((s) => Buffer.from(bytesOf(s)).toString('latin1')).join('\n');
    return { dict: node as PDFDict, operators: operatorsOf(text), text };
  });
  const root = dictAt(catalog, 'StructTreeRoot');
  return {
    bytes,
    pdf,
    catalog,
    dicts,
    pages,
    xmp: Buffer.from(bytesOf(get(catalog, 'Metadata'))).toString('utf8'),
    tree: root ? listAt(root, 'K').flatMap((k) => (k instanceof PDFDict ? [nodeOf(k)] : [])) : [],
  };
}

/** All elements, each before those within it: the order in which they are read. */
export const nodesIn = (nodes: readonly Node[]): Node[] => nodes.flatMap((n) => [n, ...nodesIn(n.kids)]);
