import { deflateSync } from 'node:zlib';

/**
 * All that the renderer uses of pdfkit beyond its published interface, in one place. The version is pinned, and
 * pdfPainter.test.ts fails when one of these moves.
 */
export interface Ref {
  id: number;
  data: Record<string, unknown>;
  write(chunk: string | Uint8Array): void;
  end(): void;
}

/** An entry of the bookmarks: it leads to `top` points beneath the upper edge of the page that is drawn. */
export interface OutlineItem {
  addItem(title: string, options: { expanded?: boolean; top?: number }): OutlineItem;
  outlineData: Record<string, unknown>;
}

/** A file within the file (ISO 19005-3 §6.8). */
export interface AttachedFile {
  name: string;
  type: string;
  description: string;
  relationship: 'Data';
  creationDate: Date;
  modifiedDate: Date;
}

/** A document as the painter sees it. */
export interface Pdf {
  addPage(options: { size: [number, number]; margin: number }): unknown;
  image(data: Buffer, x: number, y: number, options: { width: number; height: number }): unknown;
  outline: OutlineItem;
  file(data: Buffer, options: AttachedFile): unknown;
  /** A name that links within the file lead to: the page that is drawn. */
  addNamedDestination(name: string, fit: 'Fit'): unknown;
  compress: boolean;
  end(): void;
  read(): Buffer;
  push(chunk: Uint8Array | null): boolean;
  ref(data?: unknown): Ref;
  _root: Ref;
  _offset: number;
  _offsets: number[];
  _waiting: number;
  _write(data: Uint8Array | string): void;
  endMetadata(): void;
  page: {
    content: Ref & { buffer: Uint8Array[] };
    dictionary: Ref;
    fonts: Record<string, Ref>;
    ext_gstates: Record<string, Ref>;
  };
}

/** Text that stands in the file as it is: for objects that are quicker to write than to build. */
export class Raw {
  readonly [Symbol.toStringTag] = 'Raw';
  constructor(private readonly text: string) {}
  toString(): string {
    return this.text;
  }
}

/**
 * Gathers what a document writes. pdfkit writes a thousand small pieces, each of which would pass through a stream of its own.
 * @returns the whole file, once the document was ended
 */
export function gather(pdf: Pdf): Promise<Buffer> {
  // Its first line was written before anybody could listen.
  const parts: Uint8Array[] = [pdf.read()];
  let text = '';
  const seal = () => {
    if (text !== '') parts.push(Buffer.from(text, 'latin1'));
    text = '';
  };
  pdf._write = (data) => {
    if (typeof data === 'string') text += `${data}\n`;
    else {
      seal();
      parts.push(data);
    }
    pdf._offset += typeof data === 'string' ? data.length + 1 : data.length;
  };
  return new Promise((resolve) => {
    pdf.push = (chunk) => {
      if (chunk !== null) throw new Error('a document wrote past its own stream');
      seal();
      const file = Buffer.concat(parts);
      // Not at once: whoever draws one after the other would leave what else waits in this thread, and hold what it holds.
      setImmediate(() => resolve(file));
      return false;
    };
  });
}

/** Adds to what is drawn on the page. */
export const addContent = (pdf: Pdf, operators: string): void =>
  pdf.page.content.write(Buffer.from(`${operators}\n`, 'latin1'));

/** Compresses what was drawn on the page, quickly; nothing may be drawn on it any more. */
export function sealPage({ page }: Pdf): void {
  const { content } = page;
  content.buffer = [deflateSync(Buffer.concat(content.buffer), QUICK)];
  content.data.Filter = 'FlateDecode';
}

/** Puts a file into the file; compressed, as nothing else is by pdfkit itself. */
export function attachFile(pdf: Pdf, text: string, options: AttachedFile): void {
  pdf.compress = true;
  pdf.file(Buffer.from(text, 'utf8'), options);
  pdf.compress = false;
}

/** Writes many small objects at once: one by one, each costs more than it holds. */
export function addObjects(pdf: Pdf, objects: readonly (readonly [Ref, string])[]): void {
  for (const [ref, text] of objects) {
    pdf._offsets[ref.id - 1] = pdf._offset;
    pdf._write(`${ref.id} 0 obj\n${text}\nendobj`);
  }
  pdf._waiting -= objects.length;
}

/** Of zlib: nearly as small as the best, in a third of the time; what streams of this size need of memory, and no more. */
const QUICK = { level: 3, windowBits: 14, memLevel: 7 };

/** A stream object, compressed quickly. */
export function addStream(pdf: Pdf, bytes: Uint8Array, data: Record<string, unknown>): Ref {
  const ref = pdf.ref({ ...data, Filter: 'FlateDecode' });
  ref.write(deflateSync(bytes, QUICK));
  ref.end();
  return ref;
}

/** A text as a PDF string in UTF-16 with its byte order mark (ISO 32000-1 §7.9.2.2). */
export function textString(text: string): string {
  let hex = 'feff';
  for (let i = 0; i < text.length; i++) hex += text.charCodeAt(i).toString(16).padStart(4, '0');
  return `<${hex}>`;
}

interface Info {
  title: string;
  author: string;
  created: Date;
  lang: string;
}

/** What XML cannot hold (XML 1.0 §2.2), and half characters. */
const NO_XML = /[\u0000-\u0008\u000b\u000c\u000e-\u001f\ufffe\uffff]|\p{Surrogate}/gu;
const escapeXml = (s: string) => s.replace(/[&<>]/g, (c) => (c === '&' ? '&amp;' : c === '<' ? '&lt;' : '&gt;'));

/** How the file says that it has figures of accessibility, which PDF/A has to be told of (ISO 19005-3 §6.6.2.3.3). */
const UA_SCHEMA = `<rdf:Description rdf:about="" xmlns:pdfaExtension="http://www.aiim.org/pdfa/ns/extension/" xmlns:pdfaSchema="http://www.aiim.org/pdfa/ns/schema#" xmlns:pdfaProperty="http://www.aiim.org/pdfa/ns/property#">
<pdfaExtension:schemas><rdf:Bag><rdf:li rdf:parseType="Resource">
<pdfaSchema:schema>PDF/UA Universal Accessibility Schema</pdfaSchema:schema>
<pdfaSchema:namespaceURI>http://www.aiim.org/pdfua/ns/id/</pdfaSchema:namespaceURI>
<pdfaSchema:prefix>pdfuaid</pdfaSchema:prefix>
<pdfaSchema:property><rdf:Seq><rdf:li rdf:parseType="Resource">
<pdfaProperty:name>part</pdfaProperty:name>
<pdfaProperty:valueType>Integer</pdfaProperty:valueType>
<pdfaProperty:category>internal</pdfaProperty:category>
<pdfaProperty:description>Indicates, which part of ISO 14289 standard is followed</pdfaProperty:description>
</rdf:li></rdf:Seq></pdfaSchema:property>
</rdf:li></rdf:Bag></pdfaExtension:schemas>
</rdf:Description>`;

/** Document metadata as XMP, escaped; pdfkit's own is not. What the file is held to: PDF/A-3b and PDF/UA-1. */
function xmp(info: Info): string {
  const at = info.created.toISOString().replace(/\.\d+Z$/, 'Z');
  const [title, author] = [info.title, info.author].map(escapeXml);
  return `<?xpacket begin="\ufeff" id="W5M0MpCehiHzreSzNTczkc9d"?>
<x:xmpmeta xmlns:x="adobe:ns:meta/"><rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#">
<rdf:Description rdf:about="" xmlns:dc="http://purl.org/dc/elements/1.1/" xmlns:xmp="http://ns.adobe.com/xap/1.0/" xmlns:pdf="http://ns.adobe.com/pdf/1.3/" xmlns:pdfaid="http://www.aiim.org/pdfa/ns/id/" xmlns:pdfuaid="http://www.aiim.org/pdfua/ns/id/">
<dc:format>application/pdf</dc:format>
<dc:title><rdf:Alt><rdf:li xml:lang="x-default">${title}</rdf:li></rdf:Alt></dc:title>
<dc:creator><rdf:Seq><rdf:li>${author}</rdf:li></rdf:Seq></dc:creator>
<dc:language><rdf:Bag><rdf:li>${escapeXml(info.lang)}</rdf:li></rdf:Bag></dc:language>
<xmp:CreateDate>${at}</xmp:CreateDate>
<xmp:CreatorTool>${author}</xmp:CreatorTool>
<pdf:Producer>${author}</pdf:Producer>
<pdfaid:part>3</pdfaid:part>
<pdfaid:conformance>B</pdfaid:conformance>
<pdfuaid:part>1</pdfuaid:part>
</rdf:Description>
${UA_SCHEMA}
</rdf:RDF></x:xmpmeta>
<?xpacket end="w"?>`;
}

/**
 * An empty document whose bytes depend on what is put into it alone: the date is given, nothing is random. Its metadata
 * says what the file conforms to, and in the same words twice (ISO 19005-3 §6.6.3); colours are sRGB.
 */
export async function createPdf(given: Info): Promise<Pdf> {
  const clean = (text: string) => text.replace(NO_XML, '');
  const info = { ...given, title: clean(given.title), author: clean(given.author) };
  // Loading it takes longer than most of a thread's other beginnings, and threads that answer questions never draw.
  const { default: PDFDocument } = await import('pdfkit');
  const pdf = new PDFDocument({
    autoFirstPage: false,
    // None of pdfkit's own faces is used: loading its first one costs a millisecond.
    font: null as never,
    pdfVersion: '1.7',
    lang: info.lang,
    displayTitle: true,
    // Each stream is compressed as suits it.
    compress: false,
    subset: 'PDF/A-3b',
    info: {
      Title: info.title,
      Author: info.author,
      // The agency made it: nothing else is named.
      Producer: info.author,
      Creator: info.author,
      CreationDate: info.created,
    },
  }) as unknown as Pdf;
  pdf.endMetadata = () => {
    // Not compressed, so that whoever looks for the packet finds it.
    const metadata = pdf.ref({ Type: 'Metadata', Subtype: 'XML' });
    const bytes = Buffer.from(xmp(info), 'utf8');
    metadata.write(bytes);
    metadata.end();
    pdf._root.data.Metadata = metadata;
  };
  return pdf;
}
