import { PDFArray, PDFBool, type PDFDict, PDFName, type PDFNumber } from '@cantoo/pdf-lib';
import {
  all,
  attribute,
  type Clause,
  codesOf,
  fault,
  first,
  isArtifact,
  marked,
  mcidOf,
  nested,
  PAINTING,
  parentsOf,
  rewrite,
  rewriteXmp,
  STANDARD_TAGS,
  shown,
  typed,
  UA,
  unicodeOf,
  xmpIs,
  xmpValue,
} from './clauseTools.ts';
import { dictAt, isTrue, listAt, name, nameAt, nodesIn, numberAt, textAt } from './pdfFile.ts';

/** The clauses of ISO 14289-1 (accessibility) that a page of ours can break. */
export const PDF_UA_CLAUSES: readonly Clause[] = [
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
