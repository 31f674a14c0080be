import { PDFArray, PDFBool, PDFDict, PDFName, PDFNumber, PDFRawStream, PDFString } from '@cantoo/pdf-lib';
import * as hb from 'harfbuzzjs';
import { SaxesParser } from 'saxes';
import {
  bytesOf,
  dictAt,
  get,
  isTrue,
  listAt,
  type Node,
  name,
  nameAt,
  nodesIn,
  numberAt,
  type Operator,
  type PdfFile,
  textAt,
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

const typed = ({ dicts }: PdfFile, type: string) => dicts.filter((d) => nameAt(d, 'Type') === type);
const fontsOf = (file: PdfFile) => typed(file, 'Font');
const fault = (broken: boolean, what: string): string[] => (broken ? [what] : []);
const first = <T>(list: readonly T[]): T => list[0]!;

/** Changes the words of a page's content. */
function rewrite(file: PdfFile, change: (content: string) => string): void {
  const page = first(file.pages);
  const stream = PDFRawStream.of(file.pdf.context.obj({}), Buffer.from(change(page.text), 'latin1'));
  page.dict.set(name('Contents'), file.pdf.context.register(stream));
}

function rewriteXmp({ pdf, catalog, xmp }: PdfFile, change: (xmp: string) => string): void {
  const dict = pdf.context.obj({ Type: 'Metadata', Subtype: 'XML' });
  const stream = PDFRawStream.of(dict, Buffer.from(change(xmp), 'utf8'));
  catalog.set(name('Metadata'), pdf.context.register(stream));
}

const xmpValue = (xmp: string, tag: string): string | null => {
  const found = new RegExp(`<${tag}>(?:<rdf:\\w+><rdf:li[^>]*>)?([^<]*)<`).exec(xmp);
  return found && found[1]!.replaceAll('&lt;', '<').replaceAll('&gt;', '>').replaceAll('&amp;', '&');
};
const xmpIs = (tag: string, value: string) => (file: PdfFile) =>
  fault(xmpValue(file.xmp, tag) !== value, `${tag} is ${xmpValue(file.xmp, tag)}`);

const PAINTING = ['f', 'f*', 'S', 's', 'B', 'B*', 'b', 'b*', 'TJ', 'Tj', 'Do', 'sh'];

/** Walks through a page's content with the marked content that is open around each operator. */
function marked(operators: readonly Operator[], visit: (op: Operator, open: readonly Operator[]) => void): string[] {
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
const isArtifact = ({ operands }: Operator) => operands[0] === '/Artifact';
const mcidOf = ({ operands }: Operator): number | null => {
  const at = operands.indexOf('/MCID');
  return at < 0 ? null : Number(operands[at + 1]);
};

const codesOf = (op: Operator): number[] =>
  op.operands
    .flatMap((o) => (o.startsWith('<') && o !== '<<' ? (o.slice(1, -1).match(/.{4}/g) ?? []) : []))
    .map((h) => Number.parseInt(h, 16));

/** Codes that are shown in each font, by the name of its resource. */
function shown(file: PdfFile): Map<PDFDict, Set<number>> {
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

const descendant = (font: PDFDict): PDFDict | null => {
  const [only] = listAt(font, 'DescendantFonts');
  return only instanceof PDFDict ? only : null;
};
const programOf = (cid: PDFDict): Uint8Array => bytesOf(get(dictAt(cid, 'FontDescriptor')!, 'FontFile2'));

/** Widths by code, of `W` in the form `[first [w w w]]`. */
function widthsOf(cid: PDFDict): Map<number, number> {
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

const unicodeOf = (font: PDFDict): Map<number, string> => {
  const text = Buffer.from(bytesOf(get(font, 'ToUnicode'))).toString('latin1');
  return new Map(
    [...text.matchAll(/<([0-9a-f]{4})> <([0-9a-f]*)>/g)].map(([, c, u]) => [Number.parseInt(c!, 16), u!] as const),
  );
};

const STANDARD_TAGS = new Set(
  'Document Part Sect Div P H1 H2 H3 H4 H5 H6 L LI Lbl LBody Table TR TH TD THead TBody Figure Link Span Caption Note'.split(
    ' ',
  ),
);
const all = (file: PdfFile, tag: string): Node[] => nodesIn(file.tree).filter((n) => n.tag === tag);
const parentsOf = (file: PdfFile) => new Map(nodesIn(file.tree).flatMap((n) => n.kids.map((k) => [k, n] as const)));
const attribute = ({ dict }: Node, key: string) => {
  for (const a of listAt(dict, 'A')) if (a instanceof PDFDict && get(a, key)) return get(a, key)!;
  return null;
};

const A = 'ISO 19005-3';
const UA = 'ISO 14289-1';

/** What the pages are held to, clause by clause (docs/paper.md). */
export const CLAUSES: readonly Clause[] = [
  {
    clause: `${A} 6.1.2`,
    asks: 'the header names the version, and a comment of four bytes beyond ASCII follows',
    faults({ bytes }) {
      const head = Buffer.from(bytes.subarray(0, 24)).toString('latin1');
      return fault(!/^%PDF-1\.[0-7]\n%[\x80-\xff]{4}/.test(head), `it begins ${JSON.stringify(head)}`);
    },
    plant(file) {
      const at = Buffer.from(file.bytes).indexOf('\n') + 2;
      file.bytes = Uint8Array.from(file.bytes).fill(0x20, at, at + 4);
    },
  },
  {
    clause: `${A} 6.1.3`,
    asks: 'the trailer has an ID, and nothing is encrypted',
    faults: ({ pdf }) => [
      ...fault(!pdf.context.trailerInfo.ID, 'there is no ID'),
      ...fault(pdf.context.trailerInfo.Encrypt !== undefined, 'it is encrypted'),
    ],
    plant({ pdf }) {
      delete pdf.context.trailerInfo.ID;
    },
  },
  {
    clause: `${A} 6.1.7.2`,
    asks: 'no stream is compressed by LZW or lies in another file',
    faults: ({ dicts }) =>
      dicts.flatMap((d) => [
        ...fault(nameAt(d, 'Filter') === 'LZWDecode', 'LZW'),
        ...fault(get(d, 'Length') !== undefined && get(d, 'F') !== undefined, 'a stream elsewhere'),
      ]),
    plant(file) {
      first(file.dicts.filter((d) => get(d, 'Length1'))).set(name('F'), PDFString.of('elsewhere.ttf'));
    },
  },
  {
    clause: `${A} 6.2.3`,
    asks: 'an output intent says what the colours are, with its profile',
    faults({ catalog }) {
      const [intent] = listAt(catalog, 'OutputIntents');
      if (!(intent instanceof PDFDict)) return ['there is none'];
      const profile = Buffer.from(bytesOf(get(intent, 'DestOutputProfile')));
      return [
        ...fault(nameAt(intent, 'S') !== 'GTS_PDFA1', 'it is of another kind'),
        ...fault(profile.subarray(36, 40).toString() !== 'acsp', 'its profile is none'),
        ...fault(profile.subarray(16, 20).toString() !== 'RGB ', 'its profile is not of RGB'),
      ];
    },
    plant({ catalog }) {
      catalog.delete(name('OutputIntents'));
    },
  },
  {
    clause: `${A} 6.2.4.3`,
    asks: 'colours are of the kind that the output intent describes',
    faults: ({ pages, dicts }) => [
      ...pages.flatMap((p) => p.operators.filter((o) => ['k', 'K'].includes(o.name)).map(() => 'an ink of print')),
      ...dicts.filter((d) => nameAt(d, 'ColorSpace') === 'DeviceCMYK').map(() => 'a picture of inks'),
    ],
    plant: (file) => rewrite(file, (c) => c.replace(/[\d.]+ [\d.]+ [\d.]+ rg/, '0 0 0 1 k')),
  },
  {
    clause: `${A} 6.2.5`,
    asks: 'states of drawing have no transfer functions and no halftones',
    faults: (file) =>
      typed(file, 'ExtGState').flatMap((d) => ['TR', 'TR2', 'HTP', 'HT'].filter((k) => get(d, k) !== undefined)),
    plant(file) {
      first(typed(file, 'ExtGState')).set(name('TR'), PDFName.of('Identity'));
    },
  },
  {
    clause: `${A} 6.2.10`,
    asks: 'nothing blends but in the ways of the standard',
    faults: (file) =>
      typed(file, 'ExtGState').flatMap((d) => (nameAt(d, 'BM') === 'Glow' ? ['a mode of its own'] : [])),
    plant(file) {
      first(typed(file, 'ExtGState')).set(name('BM'), PDFName.of('Glow'));
    },
  },
  {
    clause: `${A} 6.2.11.3`,
    asks: 'composite fonts say how their codes become glyphs',
    faults: (file) =>
      fontsOf(file).flatMap((f) => {
        if (nameAt(f, 'Subtype') === 'Type0') return fault(nameAt(f, 'Encoding') !== 'Identity-H', 'another encoding');
        return fault(nameAt(f, 'CIDToGIDMap') !== 'Identity', 'no map of glyphs');
      }),
    plant(file) {
      first(fontsOf(file).filter((f) => nameAt(f, 'Subtype') === 'CIDFontType2')).delete(name('CIDToGIDMap'));
    },
  },
  {
    clause: `${A} 6.2.11.4.1, ${UA} 7.21.4.1`,
    asks: 'every font that is shown is embedded',
    faults: (file) =>
      [...shown(file).keys()].flatMap((f) => {
        const cid = descendant(f);
        return fault(!cid || programOf(cid).length === 0, `${nameAt(f, 'BaseFont')} is not`);
      }),
    plant(file) {
      first(typed(file, 'FontDescriptor')).delete(name('FontFile2'));
    },
  },
  {
    clause: `${A} 6.2.11.5`,
    asks: 'widths are those of the embedded fonts, to a thousandth of an em',
    faults: (file) =>
      [...shown(file)].flatMap(([f, codes]) => {
        const cid = descendant(f);
        const program = cid && programOf(cid);
        if (!cid || !program || program.length === 0) return [];
        const face = new hb.Face(new hb.Blob(program));
        const font = new hb.Font(face);
        const widths = widthsOf(cid);
        return [...codes].flatMap((code) => {
          const own = (font.glyphHAdvance(code) * 1000) / face.upem;
          const said = widths.get(code) ?? 1000;
          return fault(Math.abs(own - said) > 1, `code ${code} of ${nameAt(f, 'BaseFont')}: ${said}, not ${own}`);
        });
      }),
    plant(file) {
      const cid = first(fontsOf(file).filter((f) => get(f, 'W')));
      const widths = first(listAt(cid, 'W').slice(1)) as PDFArray;
      widths.asArray().forEach((w, i) => {
        widths.set(i, PDFNumber.of((w as PDFNumber).asNumber() + 25));
      });
    },
  },
  {
    clause: `${A} 6.2.11.8`,
    asks: 'no text shows the glyph for what a font does not have',
    faults: (file) => [...shown(file)].flatMap(([f, codes]) => fault(codes.has(0), `${nameAt(f, 'BaseFont')} does`)),
    plant: (file) => rewrite(file, (c) => c.replace(/\[<....>?/, (s) => `${s.slice(0, 2)}0000${s.slice(6)}`)),
  },
  {
    clause: `${A} 6.3.2`,
    asks: 'annotations are printed, and none is hidden',
    faults: (file) =>
      typed(file, 'Annot').flatMap((a) => fault(((numberAt(a, 'F') ?? 0) & 0b100111) !== 4, 'one is not')),
    plant(file) {
      first(typed(file, 'Annot')).set(name('F'), PDFNumber.of(2));
    },
  },
  {
    clause: `${A} 6.5.1`,
    asks: 'nothing is run, played or sent',
    faults: ({ dicts, catalog }) => [
      ...dicts.flatMap((d) =>
        fault(['JavaScript', 'Launch', 'Sound', 'Movie', 'SubmitForm'].includes(nameAt(d, 'S') ?? ''), nameAt(d, 'S')!),
      ),
      ...fault(get(catalog, 'OpenAction') !== undefined || get(catalog, 'AA') !== undefined, 'an action on opening'),
    ],
    plant({ catalog, pdf }) {
      catalog.set(name('OpenAction'), pdf.context.obj({ S: 'JavaScript', JS: PDFString.of('app.beep()') }));
    },
  },
  {
    clause: `${A} 6.6.2.1`,
    asks: 'the metadata is an XMP packet that XML can read',
    faults({ xmp }) {
      const found: string[] = [];
      const parser = new SaxesParser({ xmlns: true });
      parser.on('error', (e) => found.push(e.message));
      parser.write(xmp.replace(/^\ufeff/, '')).close();
      return [...found, ...fault(!/<\?xpacket begin=/.test(xmp), 'there is no packet')];
    },
    plant: (file) => rewriteXmp(file, (x) => x.replace('</dc:title>', ' & </dc:title>')),
  },
  {
    clause: `${A} 6.6.2.3.3`,
    asks: 'a schema that is not of XMP itself is described',
    faults: ({ xmp }) =>
      fault(
        /<pdfuaid:/.test(xmp) && xmpValue(xmp, 'pdfaSchema:namespaceURI') !== 'http://www.aiim.org/pdfua/ns/id/',
        'that of PDF/UA is not',
      ),
    plant: (file) => rewriteXmp(file, (x) => x.replace(/<pdfaSchema:namespaceURI>.*<\/pdfaSchema:namespaceURI>/, '')),
  },
  {
    clause: `${A} 6.6.3`,
    asks: 'what the information dictionary says, the metadata says in the same words',
    faults({ pdf, xmp }) {
      const info = pdf.context.lookup(pdf.context.trailerInfo.Info) as PDFDict;
      const pairs = [
        ['Title', 'dc:title'],
        ['Author', 'dc:creator'],
        ['Creator', 'xmp:CreatorTool'],
        ['Producer', 'pdf:Producer'],
      ] as const;
      const at = /D:(\d{4})(\d\d)(\d\d)(\d\d)(\d\d)(\d\d)/.exec(textAt(info, 'CreationDate') ?? '');
      const created = at && `${at[1]}-${at[2]}-${at[3]}T${at[4]}:${at[5]}:${at[6]}Z`;
      return [
        ...pairs.flatMap(([key, tag]) => fault(textAt(info, key) !== xmpValue(xmp, tag), key)),
        ...fault(created !== xmpValue(xmp, 'xmp:CreateDate'), 'CreationDate'),
      ];
    },
    plant: (file) =>
      rewriteXmp(file, (x) => x.replace(/<pdf:Producer>.*<\/pdf:Producer>/, '<pdf:Producer>Another</pdf:Producer>')),
  },
  {
    clause: `${A} 6.6.4`,
    asks: 'the file says that it is of PDF/A-3, level B',
    faults: (file) => [...xmpIs('pdfaid:part', '3')(file), ...xmpIs('pdfaid:conformance', 'B')(file)],
    plant: (file) => rewriteXmp(file, (x) => x.replace('<pdfaid:part>3', '<pdfaid:part>1')),
  },
  {
    clause: `${A} 6.8, ${UA} 7.11`,
    asks: 'a file within the file is named twice, typed, dated and related to the whole',
    faults: (file) =>
      typed(file, 'Filespec').flatMap((f) => {
        const stream = dictAt(dictAt(f, 'EF') ?? f, 'F');
        const params = stream && dictAt(stream, 'Params');
        return [
          ...fault(textAt(f, 'F') === null || textAt(f, 'UF') === null, 'it has no name'),
          ...fault(nameAt(f, 'AFRelationship') === null, 'it is related to nothing'),
          ...fault(!stream || nameAt(stream, 'Subtype') === null, 'it has no type'),
          ...fault(!params || get(params, 'ModDate') === undefined, 'it has no date'),
          ...fault(!listAt(file.catalog, 'AF').includes(f), 'the document does not list it'),
        ];
      }),
    plant(file) {
      first(typed(file, 'Filespec')).delete(name('AFRelationship'));
    },
  },
  {
    clause: `${UA} 5`,
    asks: 'the file says that it is of PDF/UA-1',
    faults: xmpIs('pdfuaid:part', '1'),
    plant: (file) => rewriteXmp(file, (x) => x.replace('<pdfuaid:part>1</pdfuaid:part>', '')),
  },
  {
    clause: `${UA} 6.2`,
    asks: 'it is marked as tagged, and nothing of it is suspect',
    faults({ catalog }) {
      const info = dictAt(catalog, 'MarkInfo');
      return [
        ...fault(!info || !isTrue(info, 'Marked'), 'it is not'),
        ...fault(!!info && isTrue(info, 'Suspects'), 'suspect'),
      ];
    },
    plant({ catalog }) {
      dictAt(catalog, 'MarkInfo')!.set(name('Marked'), PDFBool.False);
    },
  },
  {
    clause: `${UA} 7.1-3`,
    asks: 'everything that is drawn is a part of what is read, or marked as decoration',
    faults: ({ pages }) =>
      pages.flatMap((page) => {
        const found = new Set<string>();
        const ends = marked(page.operators, (op, open) => {
          if (PAINTING.includes(op.name) && !open.some((o) => isArtifact(o) || mcidOf(o) !== null)) found.add(op.name);
        });
        return [...ends, ...[...found].map((n) => `${n} outside of any`)];
      }),
    plant: (file) => rewrite(file, (c) => c.replace(/\/Artifact <<[^>]*>> BDC([\s\S]*?)EMC/, '$1')),
  },
  {
    clause: `${UA} 7.1-1`,
    asks: 'what is read is no decoration, and the other way round',
    faults: ({ pages }) =>
      pages.flatMap((page) =>
        page.operators.length === 0
          ? []
          : marked(page.operators, () => undefined).concat(
              nested(page.operators) ? ['one stands within the other'] : [],
            ),
      ),
    plant: (file) => rewrite(file, (c) => c.replace(/(\/P <<\/MCID \d+>> BDC)/, '$1 /Artifact BMC EMC')),
  },
  {
    clause: `${UA} 7.1-9`,
    asks: 'the metadata has a title, and a window shows it',
    faults({ catalog, xmp }) {
      const view = dictAt(catalog, 'ViewerPreferences');
      return [
        ...fault(!xmpValue(xmp, 'dc:title')?.trim(), 'there is none'),
        ...fault(!view || !isTrue(view, 'DisplayDocTitle'), 'it is not shown'),
      ];
    },
    plant({ catalog }) {
      catalog.delete(name('ViewerPreferences'));
    },
  },
  {
    clause: `${UA} 7.1-12`,
    asks: 'every piece of marked content belongs to one element, which belongs to the document',
    faults(file) {
      const tree = dictAt(dictAt(file.catalog, 'StructTreeRoot')!, 'ParentTree')!;
      const nums = listAt(tree, 'Nums');
      const byKey = new Map(
        nums.flatMap((n, i) => (i % 2 === 0 ? [[(n as PDFNumber).asNumber(), nums[i + 1]!] as const] : [])),
      );
      return file.pages.flatMap((page, p) => {
        const owners = byKey.get(numberAt(page.dict, 'StructParents') ?? -1);
        const count = owners instanceof PDFArray ? owners.size() : 0;
        const used = page.operators.flatMap((o) => (o.name === 'BDC' ? [mcidOf(o)] : [])).filter((n) => n !== null);
        return [
          ...fault(new Set(used).size !== used.length, `sheet ${p + 1}: one number twice`),
          ...fault(
            used.some((n) => n >= count),
            `sheet ${p + 1}: one that no element has`,
          ),
        ];
      });
    },
    plant: (file) => rewrite(file, (c) => c.replace(/\/MCID 0>>/, '/MCID 9999>>')),
  },
  {
    clause: `${UA} 7.1-5`,
    asks: 'elements are of standard types, each where its type may stand',
    faults(file) {
      const parents = parentsOf(file);
      const within: Record<string, string[]> = {
        TR: ['Table', 'THead', 'TBody'],
        TH: ['TR'],
        TD: ['TR'],
        LI: ['L'],
        Lbl: ['LI'],
        LBody: ['LI'],
      };
      return nodesIn(file.tree).flatMap((n) => [
        ...fault(!STANDARD_TAGS.has(n.tag), `${n.tag} is none`),
        ...fault(
          n.tag in within && !within[n.tag]!.includes(parents.get(n)?.tag ?? ''),
          `${n.tag} in ${parents.get(n)?.tag}`,
        ),
        ...fault(['Table', 'TR', 'L', 'LI'].includes(n.tag) && n.holds.length > 0, `${n.tag} holds content itself`),
      ]);
    },
    plant(file) {
      first(all(file, 'TD')).dict.set(name('S'), PDFName.of('Cell'));
    },
  },
  {
    clause: `${UA} 7.2`,
    asks: 'the language is named, and that of text in another one',
    faults(file) {
      const HEBREW = /[\u0590-\u05ff]/;
      const lang = textAt(file.catalog, 'Lang') ?? '';
      const foreign = file.pages.flatMap((page) => {
        const fonts = dictAt(dictAt(page.dict, 'Resources')!, 'Font');
        let font: PDFDict | null = null;
        const found: string[] = [];
        marked(page.operators, (op, open) => {
          if (op.name === 'Tf') font = fonts && dictAt(fonts, op.operands[0]!.slice(1));
          if (op.name !== 'TJ' || !font) return;
          const texts = unicodeOf(font);
          const said = codesOf(op).map((c) =>
            String.fromCharCode(...((texts.get(c) ?? '').match(/.{4}/g) ?? []).map((h) => Number.parseInt(h, 16))),
          );
          if (HEBREW.test(said.join('')) && !open.some((o) => o.operands.includes('/Lang'))) found.push(said.join(''));
        });
        return found;
      });
      return [
        ...fault(!/^[a-z]{2,3}(-|$)/.test(lang), 'it is not'),
        ...(lang.startsWith('he') ? [] : foreign.map((t) => `${t} is not named`)),
      ];
    },
    plant: (file) => rewrite(file, (c) => c.replaceAll('/Lang (he)', '')),
  },
  {
    clause: `${UA} 7.3`,
    asks: 'figures have a text in their place, and say where they lie',
    faults: (file) =>
      all(file, 'Figure').flatMap((f) => [
        ...fault(!textAt(f.dict, 'Alt')?.trim(), 'one has no text'),
        ...fault(!(attribute(f, 'BBox') instanceof PDFArray), 'one lies nowhere'),
      ]),
    plant(file) {
      first(all(file, 'Figure')).dict.delete(name('Alt'));
    },
  },
  {
    clause: `${UA} 7.4.2`,
    asks: 'headings begin with the first level, and leave none out on the way down',
    faults(file) {
      const levels = nodesIn(file.tree).flatMap((n) => (/^H\d$/.test(n.tag) ? [Number(n.tag[1])] : []));
      return levels.flatMap((level, i) =>
        fault(level > (levels[i - 1] ?? 0) + 1, `H${level} after H${levels[i - 1] ?? 0}`),
      );
    },
    plant(file) {
      first(all(file, 'H1')).dict.set(name('S'), PDFName.of('H3'));
    },
  },
  {
    clause: `${UA} 7.5`,
    asks: 'heads of tables say whether they stand over a column or before a row; rows are alike',
    faults: (file) => [
      ...all(file, 'TH').flatMap((h) => fault(!(attribute(h, 'Scope') instanceof PDFName), 'a head says nothing')),
      ...all(file, 'Table').flatMap((t) => {
        const cells = new Set(t.kids.map((row) => row.kids.length));
        return fault(cells.size > 1, `rows of ${[...cells].join(' and ')} cells`);
      }),
    ],
    plant(file) {
      first(all(file, 'TH')).dict.delete(name('A'));
    },
  },
  {
    clause: `${UA} 7.6`,
    asks: 'points of lists are labelled bodies',
    faults: (file) =>
      all(file, 'LI').flatMap((li) => fault(!li.kids.some((k) => k.tag === 'LBody'), 'a point has no body')),
    plant(file) {
      first(all(file, 'LBody')).dict.set(name('S'), PDFName.of('Span'));
    },
  },
  {
    clause: `${UA} 7.8`,
    asks: 'what repeats at head and foot is a decoration of its kind',
    faults: ({ pages }) =>
      pages.slice(1).flatMap((page, i) => {
        const kinds = page.operators.filter((o) => o.name === 'BDC' && isArtifact(o)).map((o) => o.operands.join(' '));
        const has = (kind: string) => kinds.some((k) => k.includes('/Pagination') && k.includes(`/Subtype /${kind}`));
        return [
          ...fault(!has('Header'), `sheet ${i + 2}: no head`),
          ...fault(!has('Footer'), `sheet ${i + 2}: no foot`),
        ];
      }),
    plant(file) {
      const [, second] = file.pages;
      file.pages[0] = second!;
      rewrite(file, (c) => c.replaceAll('/Subtype /Footer', ''));
    },
  },
  {
    clause: `${UA} 7.17`,
    asks: 'bookmarks lead to the pages, in the order of reading',
    faults({ catalog, pdf }) {
      const outlines = dictAt(catalog, 'Outlines');
      if (!outlines) return ['there are none'];
      const order = pdf.getPages().map((p) => p.node as PDFDict);
      const places: number[] = [];
      for (let item = dictAt(outlines, 'First'); item; item = dictAt(item, 'Next')) {
        const [page] = listAt(item, 'Dest');
        places.push(order.indexOf(page as never));
      }
      return fault(
        places.some((p, i) => p < 0 || p < (places[i - 1] ?? 0)),
        `they lead to ${places}`,
      );
    },
    plant({ catalog }) {
      catalog.delete(name('Outlines'));
    },
  },
  {
    clause: `${UA} 7.18.1`,
    asks: 'annotations say in words what they are',
    faults: (file) => typed(file, 'Annot').flatMap((a) => fault(!textAt(a, 'Contents')?.trim(), 'one does not')),
    plant(file) {
      first(typed(file, 'Annot')).delete(name('Contents'));
    },
  },
  {
    clause: `${UA} 7.18.3`,
    asks: 'the tab key follows the order of reading',
    faults: ({ pages }) => pages.flatMap((p, i) => fault(nameAt(p.dict, 'Tabs') !== 'S', `not on sheet ${i + 1}`)),
    plant: ({ pages }) => {
      first(pages).dict.delete(name('Tabs'));
    },
  },
  {
    clause: `${UA} 7.18.5`,
    asks: 'a link is an element with its words and its place',
    faults: (file) => [
      ...all(file, 'Link').flatMap((l) =>
        fault(!l.holds.includes('object') || !l.holds.includes('mcid'), 'one has not'),
      ),
      ...fault(
        typed(file, 'Annot').some((a) => nameAt(a, 'Subtype') === 'Link' && numberAt(a, 'StructParent') === null),
        'one is in no element',
      ),
    ],
    plant(file) {
      first(typed(file, 'Annot')).delete(name('StructParent'));
    },
  },
  {
    clause: `${UA} 7.21.7`,
    asks: 'every code that is shown stands for characters',
    faults: (file) =>
      [...shown(file)].flatMap(([f, codes]) => {
        const texts = unicodeOf(f);
        return [...codes].flatMap((c) =>
          fault(!/^(?!0000|feff|fffe).+/.test(texts.get(c) ?? ''), `code ${c} of ${nameAt(f, 'BaseFont')}`),
        );
      }),
    plant(file) {
      first([...shown(file).keys()]).delete(name('ToUnicode'));
    },
  },
];

/** Whether decoration stands within what is read, or what is read within decoration. */
function nested(operators: readonly Operator[]): boolean {
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
