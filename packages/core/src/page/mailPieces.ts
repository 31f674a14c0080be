import { blockKind, type Laid, type MailPiece, standing } from '../report/index.ts';
import { blocksIn } from './blockContext.ts';
import type { ComposeInput, PageInput } from './composeInput.ts';
import { facesOf } from './faces.ts';
import { paletteOf } from './palette.ts';
import { createPen } from './pen.ts';
import { rulerFor } from './ruler.ts';
import type { ScenePage } from './scene.ts';

/**
 * Of a chart in a mail, in points. It is shown larger than it is drawn: its letters are to be read on a phone, where it is
 * made as narrow as that is.
 */
export const MAIL_CHART_WIDTH = 340;
/** Around the drawing, which stands on white in whatever ground the mail has. */
const PAD = 8;

/** What a mail shows of one block: as the page says it. */
export type MailShown = (MailPiece | { kind: 'chart'; title: string; alt: string; page: ScenePage }) & {
  block: string;
  /** Its own dates and filter, where they differ from the report's; else empty. */
  about: string;
  /** What has to be said of its figures. */
  notes: string[];
};

/** What is told of a drawing to whoever does not see it. */
function altIn({ ops }: ScenePage): string {
  const told = ops.flatMap((op) => (op.k === 'open' && op.tag === 'Figure' && op.alt ? [op.alt] : []));
  return [...new Set(told)].join(' ');
}

/**
 * What a mail shows of blocks of a report, by the same answers and the same words as its pages: a figure is never said in two
 * ways. Blocks that stand only with figures, and have none, are left out.
 * @param blocks their ids; what mails do not show is left out
 */
export function mailPieces(given: ComposeInput, blocks: readonly string[]): MailShown[] {
  const { format, document } = given;
  const ruler = rulerFor(given.ruler, format.locale, format.words.direction, facesOf(given.brand.typefaces));
  const input: PageInput = { ...given, ruler };
  const laid = blocksIn(input, paletteOf(input.brand));
  const all = standing(document).pages.flatMap((p) => p.rows.flatMap((r) => r.blocks));
  return blocks.flatMap((id): MailShown[] => {
    const block = all.find((b) => b.id === id);
    if (!block || laid.isSilent(block)) return [];
    const { mail } = blockKind(block);
    if (!mail) return [];
    const notes: string[] = [];
    const context = laid.contextOf(block, MAIL_CHART_WIDTH, (text) => {
      if (!notes.includes(text)) notes.push(text);
    });
    const own = { block: id, about: context.subtitle, notes };
    const gone = laid.goneOf(block);
    if (gone !== '') return [{ kind: 'reason', title: '', text: gone, ...own }];
    if (mail.as !== 'chart') return [{ ...mail.piece(block, context), ...own }];
    const page = pageOf(laid.layBlock(block, context), ruler, id);
    // A drawing says its own dates by itself.
    return [{ kind: 'chart', title: page.title, alt: altIn(page), page, ...own, about: '' }];
  });
}

function pageOf(laid: Laid, ruler: PageInput['ruler'], id: string): ScenePage {
  const width = MAIL_CHART_WIDTH + 2 * PAD;
  const height = Math.ceil(laid.height) + 2 * PAD;
  const page: ScenePage = { title: laid.name ?? '', width, height, ops: [], blocks: [] };
  const pen = createPen(page.ops, ruler, width);
  pen.rect(0, 0, width, height, '#ffffff');
  laid.draw(pen, PAD, PAD);
  page.blocks.push({ id, x: PAD, y: PAD, w: MAIL_CHART_WIDTH, h: laid.height });
  return page;
}
