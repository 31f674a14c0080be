import { type PDFArray, PDFDict, PDFName, PDFNumber, PDFString } from '@cantoo/pdf-lib';
import * as hb from 'harfbuzzjs';
import { SaxesParser } from 'saxes';
import {
  A,
  type Clause,
  descendant,
  fault,
  first,
  fontsOf,
  glyphOfCode,
  programOf,
  rewrite,
  rewriteXmp,
  shown,
  typed,
  UA,
  widthsOf,
  xmpIs,
  xmpValue,
} from './clauseTools.ts';
import { bytesOf, dictAt, get, listAt, name, nameAt, numberAt, textAt } from './pdfFile.ts';

/** The clauses of ISO 19005-3 (archiving) that a page of ours can break. */
export const PDF_A_CLAUSES: readonly Clause[] = [
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
        const isMapped = nameAt(f, 'CIDToGIDMap') === 'Identity' || bytesOf(get(f, 'CIDToGIDMap')).length > 0;
        return fault(!isMapped, 'no map of glyphs');
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
        const glyphOf = glyphOfCode(cid);
        return [...codes].flatMap((code) => {
          const own = (font.glyphHAdvance(glyphOf(code)) * 1000) / face.upem;
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
];
