import type { RouteName } from '@chronicon/core/contract';
import { DIMENSION_KEYS, hasDrivers } from '@chronicon/core/figures';
import { BLOCK_KINDS, compares, type Fresh } from '@chronicon/core/report';
import { wordsFor } from '@chronicon/core/words';
import type { CoveredShape } from '../facts/coveredShape.ts';
import { datasetsOf } from '../facts/factReader.ts';
import { type ClientFigures, figuresOf } from '../figures/ask.ts';
import { dimensionsOf, isAvailable } from '../figures/available.ts';
import { theClient } from './access.ts';
import type { Handlers } from './context.ts';

/** What a new block shows first: visits, or what the client's feeds bring in their place. */
function freshFor({ client, knowledge }: ClientFigures, shapes: readonly CoveredShape[]): Fresh {
  const { book } = knowledge;
  const usual = book.of('visits');
  const has = (m: typeof usual) => isAvailable(m.aggregation, shapes, book) && hasDrivers(m.aggregation, book.lookup);
  const metric = has(usual) ? usual : (book.metrics.find(has) ?? usual);
  const known = new Set(dimensionsOf(metric, shapes, book));
  const dimension = DIMENSION_KEYS.find((d) => known.has(d)) ?? 'channel';
  return { words: wordsFor(client.language), metric: metric.key, dimension };
}

export const blockHandlers: Handlers<Extract<RouteName, `${string}/blocks`>> = {
  'GET /api/clients/:client/blocks': async ({ api, session, params }) => {
    const figures = await figuresOf(api, await theClient(api.store, session.member, params.client));
    const fresh = freshFor(figures, await datasetsOf(api.facts, figures.client.id));
    const english = wordsFor('en-GB');
    return BLOCK_KINDS.map((kind) => {
      const made = kind.make('new', fresh);
      return {
        kind: kind.kind,
        label: english.blocks[kind.kind]!,
        about: kind.about,
        fields: [...kind.fields],
        reads: kind.reads,
        compares: compares(made),
        mayBeWritten: kind.mayBeWritten,
        fresh: made,
      };
    });
  },
};
