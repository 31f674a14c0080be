import { deflateSync } from 'node:zlib';

/**
 * All that the press uses of pdfkit beyond its published interface, in one place. The version is pinned, and
 * pdfPainter.test.ts fails when one of these moves.
 */
export interface Ref {
  data: Record<string, unknown>;
  write(chunk: string | Uint8Array): void;
  end(): void;
}

/** A document as the painter sees it. */
export interface Pdf {
  addPage(options: { size: [number, number]; margin: number }): unknown;
  addContent(operators: string): unknown;
  image(data: Buffer, x: number, y: number, options: { width: number; height: number }): unknown;
  outline: { addItem(title: string): unknown };
  on(event: 'data', listener: (chunk: Buffer) => void): unknown;
  on(event: 'end', listener: () => void): unknown;
  on(event: 'error', listener: (error: Error) => void): unknown;
  end(): void;
  ref(data?: unknown): Ref;
  _root: Ref;
  endMetadata(): void;
  page: { dictionary: Ref; fonts: Record<string, Ref>; ext_gstates: Record<string, Ref> };
}

/** Text that stands in the file as it is: for objects that are quicker to write than to build. */
export class Raw {
  readonly [Symbol.toStringTag] = 'Raw';
  constructor(private readonly text: string) {}
  toString(): string {
    return this.text;
  }
}

/** A stream object, compressed quickly. */
export function addStream(pdf: Pdf, bytes: Uint8Array, data: Record<string, unknown>): Ref {
  const ref = pdf.ref({ ...data, Filter: 'FlateDecode' });
  ref.write(deflateSync(bytes, { level: 3 }));
  ref.end();
  return ref;
}

const escapeXml = (s: string) => s.replace(/[&<>]/g, (c) => (c === '&' ? '&amp;' : c === '<' ? '&lt;' : '&gt;'));

/** Document metadata as XMP, escaped; pdfkit's own is not. */
function xmp(info: { title: string; author: string; created: Date; lang: string }): string {
  const at = info.created.toISOString().replace(/\.\d+Z$/, 'Z');
  const title = escapeXml(info.title);
  return `<?xpacket begin="\ufeff" id="W5M0MpCehiHzreSzNTczkc9d"?>
<x:xmpmeta xmlns:x="adobe:ns:meta/"><rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#">
<rdf:Description rdf:about="" xmlns:dc="http://purl.org/dc/elements/1.1/" xmlns:xmp="http://ns.adobe.com/xap/1.0/">
<dc:format>application/pdf</dc:format>
<dc:title><rdf:Alt><rdf:li xml:lang="x-default">${title}</rdf:li></rdf:Alt></dc:title>
<dc:creator><rdf:Seq><rdf:li>${escapeXml(info.author)}</rdf:li></rdf:Seq></dc:creator>
<dc:language><rdf:Bag><rdf:li>${escapeXml(info.lang)}</rdf:li></rdf:Bag></dc:language>
<xmp:CreateDate>${at}</xmp:CreateDate>
</rdf:Description></rdf:RDF></x:xmpmeta>
<?xpacket end="w"?>`;
}

/** An empty document whose bytes depend on what is put into it alone: the date is given, nothing is random. */
export async function createPdf(info: { title: string; author: string; created: Date; lang: string }): Promise<Pdf> {
  // Loading it takes longer than most of a thread's other beginnings, and threads that answer questions never draw.
  const { default: PDFDocument } = await import('pdfkit');
  const pdf = new PDFDocument({
    autoFirstPage: false,
    // None of pdfkit's own faces is used: loading its first one costs a millisecond.
    font: null as never,
    pdfVersion: '1.7',
    lang: info.lang,
    displayTitle: true,
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
    const metadata = pdf.ref({ Type: 'Metadata', Subtype: 'XML', Filter: 'FlateDecode' });
    metadata.write(deflateSync(Buffer.from(xmp(info), 'utf8')));
    metadata.end();
    pdf._root.data.Metadata = metadata;
  };
  return pdf;
}
