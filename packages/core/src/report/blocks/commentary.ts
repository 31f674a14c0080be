import { z } from 'zod';
import { TEXT } from '../../bounds/index.ts';
import { figureQuestions } from '../figureFields.ts';
import { metricsNamed } from '../mergeFields.ts';
import { type BlockOf, defineBlock } from './defineBlock.ts';
import type { Field } from './fields.ts';
import { layWords } from './layWords.ts';

const fields = {
  /** `period`: written anew for each period and kept by its dates (periodCommentary.ts); `standing`: a part of the report. */
  span: { schema: z.enum(['standing', 'period']).default('standing'), shape: null },
  /**
   * Of a standing one, empty otherwise. Paragraphs are parted by empty lines; a line that begins with "- " is a point of
   * a list.
   */
  text: {
    schema: z.string().max(TEXT.commentary, `Maximum ${TEXT.commentary.toLocaleString('en')} characters.`),
    shape: { kind: 'commentary', label: 'Commentary', most: TEXT.commentary },
  },
} satisfies Record<string, Field>;

const textOf = (block: BlockOf<'commentary', typeof fields>, written: string): string =>
  block.span === 'period' ? written : block.text;

/** What a person has to say about the figures. One for a period without words for it takes no room. */
export const commentary = defineBlock({
  kind: 'commentary',
  fields,
  make: () => ({ span: 'period' as const, text: '' }),
  isWritten: (block) => block.span === 'period',
  textOf,
  questions: (block, scope) => metricsNamed(textOf(block, scope.written)).flatMap((m) => figureQuestions(m, scope)),
  // Its words are read with it.
  hands: () => false,
  // A column of a few words.
  least: () => 110,
  lay(block, context) {
    const text = textOf(block, context.written);
    // A figure within words has no room for its mark; what has to be said of it stands at the foot all the same.
    for (const metric of metricsNamed(text)) if (context.book.has(metric)) context.dayMark(metric);
    return layWords(context, text);
  },
});
