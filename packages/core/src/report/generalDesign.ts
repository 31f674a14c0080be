import type { Words } from '../words/index.ts';
import type { Block } from './blocks/registry.ts';
import { namedFor, namesClient, withoutName } from './clientNamed.ts';
import { blocksOf, type ReportDocument } from './document.ts';
import { mapTypedTexts, type TypedText, typedTexts } from './typedTexts.ts';

/** What is one client's alone and never comes along: words and pictures of a block, and what is counted of the figures. */
function bareBlock(block: Block): Block {
  const { filter: _, picture: __, ...rest } = block as Block & { picture?: unknown };
  return { ...rest, ...(block.kind === 'commentary' && { text: '' }) } as Block;
}

/** A design without commentary, pictures and filters; its typed texts are as they were. */
export const withoutOwnData = ({ filter: _, ...document }: ReportDocument): ReportDocument => ({
  ...document,
  pages: document.pages.map((page) => ({
    ...page,
    rows: page.rows.map((row) => ({ ...row, blocks: row.blocks.map(bareBlock) })),
  })),
});

/** How many blocks of a design lose something when it is made general. */
export function lostOf(document: ReportDocument): { filters: number; pictures: number; commentaries: number } {
  const blocks = blocksOf(document);
  const filtered = (filter: readonly unknown[] | undefined): boolean => (filter ?? []).length > 0;
  return {
    filters: blocks.filter((b) => filtered(b.filter)).length + (filtered(document.filter) ? 1 : 0),
    pictures: blocks.filter((b) => b.kind === 'picture' && b.picture !== undefined).length,
    commentaries: blocks.filter((b) => b.kind === 'commentary' && b.text.trim() !== '').length,
  };
}

/** A text that the product itself gave: it says nothing of anybody. */
const isOurs = (words: Words, text: string): boolean =>
  Object.values(words.starters).includes(text) || text === words.blocks.heading || /^Page \d{1,2}$/.test(text);

/** What stands where a text did not come along and something has to. */
const inItsPlace = (words: Words, { of, isRequired }: TypedText): string =>
  !isRequired ? '' : of.kind === 'page' ? words.sheet.page! : words.blocks.heading!;

/** Whose design is made general, and in which language its words are. */
export interface Generalising {
  clientName: string;
  words: Words;
  /** The template that it is a new version of: what stands there already may stay. */
  template?: ReportDocument | undefined;
}

/** The texts of a template by their place. */
const textsOf = (document: ReportDocument | undefined): Map<string, string> =>
  new Map((document ? typedTexts(document) : []).map(({ place, text }) => [place, text]));

/** Whether a text says what the template does at its place, with the client's name in its field. */
const saysTheSame = (stands: string | undefined, { text, most }: TypedText, clientName: string): stands is string =>
  stands !== undefined && (stands === withoutName(text, clientName) || namedFor(stands, clientName, most) === text);

/** A text that a person has to agree to before it comes along. */
export interface AskedText extends TypedText {
  /** It says a word of the client's name. */
  namesClient: boolean;
}

/**
 * The texts of a report's design that come along only where somebody says so: neither the product's own, nor those that stand at the same
 * place in the template already. In reading order, each text once.
 */
export function textsToAsk(document: ReportDocument, { clientName, words, template }: Generalising): AskedText[] {
  const there = textsOf(template);
  const found = new Map<string, AskedText>();
  for (const typed of typedTexts(document)) {
    const { text, place } = typed;
    if (isOurs(words, text) || saysTheSame(there.get(place), typed, clientName)) continue;
    if (!found.has(text)) found.set(text, { ...typed, namesClient: namesClient(text, clientName) });
  }
  return [...found.values()];
}

/**
 * A report's design as one for every client: without its words, pictures and filters, with a field where the client's name stood. Of the
 * typed texts come along those that `agreed` holds, the product's own, and what the template says at the same place.
 */
export function generalDesign(
  document: ReportDocument,
  general: Generalising,
  agreed: ReadonlySet<string>,
): ReportDocument {
  const { clientName, words } = general;
  const there = textsOf(general.template);
  return mapTypedTexts(withoutOwnData(document), (typed) => {
    const { text, place, most } = typed;
    const stands = there.get(place);
    if (saysTheSame(stands, typed, clientName)) return stands;
    if (isOurs(words, text)) return text;
    const named = withoutName(text, clientName);
    // One without room for the field is one that does not come along.
    if (agreed.has(text) && named.length <= most) return named;
    return stands ?? inItsPlace(words, typed);
  });
}

/** A general design for a client: its name where the field for it stands. */
export const designFor = (document: ReportDocument, clientName: string): ReportDocument =>
  mapTypedTexts(document, ({ text, most }) => namedFor(text, clientName, most));
