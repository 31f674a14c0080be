import { z } from 'zod';
import { hasDrivers, targetAdds } from '../../figures/index.ts';
import type { BlockKind, Fresh, Laid, LayoutContext, Scope } from './block.ts';
import { blockId } from './blockId.ts';
import type { FieldShape } from './fieldShape.ts';
import { type Field, fieldFaults } from './fields.ts';
import { type OwnChoices, ownChoices } from './ownChoices.ts';

type Fields = Record<string, Field>;

/** A block as its fields make it. */
export type BlockOf<K extends string, F extends Fields> = { kind: K; id: string } & OwnChoices & {
    [P in keyof F as undefined extends z.output<F[P]['schema']> ? never : P]: z.output<F[P]['schema']>;
  } & {
    /** What documents of before do not say. */
    [P in keyof F as undefined extends z.output<F[P]['schema']> ? P : never]?: z.output<F[P]['schema']>;
  };

/** What a kind says of itself; what it leaves out is as for most blocks. */
interface Said<K extends string, F extends Fields, B extends BlockOf<K, F> = BlockOf<K, F>>
  extends Partial<
    Pick<
      BlockKind<B>,
      | 'about'
      | 'mail'
      | 'metricsOf'
      | 'textOf'
      | 'reads'
      | 'drawSheet'
      | 'isWritten'
      | 'mayBeWritten'
      | 'least'
      | 'hands'
    >
  > {
  kind: K;
  fields: F;
  make(fresh: Fresh): Omit<B, 'kind' | 'id'>;
  /** Of the dates and filter that the kind itself has settled. */
  questions?(block: B, scope: Scope): ReturnType<BlockKind<B>['questions']>;
  lay(block: B, context: LayoutContext): Laid;
}

/** The metrics that the fields of a block name. */
const metricsIn = (shapes: readonly FieldShape[], block: object): readonly string[] =>
  shapes.flatMap((f) => {
    const value = (block as Record<string, unknown>)[f.key];
    return f.kind === 'metric' || f.kind === 'metrics' ? ((value ?? []) as string | string[]) : [];
  });

/**
 * A kind of block from its fields, its questions and its layout. The schema is made of the fields, so that a screen and
 * the route hold one set of limits; metrics are checked against the client's book by the same fields.
 */
export function defineBlock<const K extends string, F extends Fields>(said: Said<K, F>): BlockKind<BlockOf<K, F>> {
  type B = BlockOf<K, F>;
  const entries = Object.entries(said.fields);
  const fields = entries.flatMap(([key, { shape }]) => (shape ? [{ key, ...shape } as FieldShape] : []));
  const schema = z.strictObject({
    kind: z.literal(said.kind),
    id: blockId,
    ...ownChoices,
    ...Object.fromEntries(entries.map(([key, field]) => [key, field.schema])),
  }) as unknown as z.ZodType<B>;
  return {
    about: null,
    metricsOf: (block) => metricsIn(fields, block),
    reads: fields.some((f) => f.kind === 'metric' || f.kind === 'metrics'),
    textOf: () => '',
    drawSheet: null,
    mail: null,
    isWritten: () => false,
    mayBeWritten: false,
    hands: () => true,
    least: () => 0,
    questions: () => [],
    ...said,
    kind: said.kind as B['kind'],
    make: (id, fresh) => ({ kind: said.kind, id, ...said.make(fresh) }) as B,
    schema,
    fields,
    check: (block, book) =>
      fieldFaults(fields, block, book, {
        divide: (key) => hasDrivers(book.lookup(key), book.lookup),
        add: (key) => targetAdds(book.lookup(key), book.lookup),
      }),
  };
}
