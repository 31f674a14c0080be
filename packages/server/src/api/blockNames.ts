import { metricBook } from '@chronicon/core/figures';
import { type Block, blockKind } from '@chronicon/core/report';
import { formatterOf } from '@chronicon/core/words';
import type { StoredClient } from '../store/clients.ts';

/** What a block is about, in words of the interface: its own title, else the first of its metrics. */
export function aboutBlock(block: Block, client: Pick<StoredClient, 'metrics' | 'currency'>): string {
  const { words } = formatterOf('en-GB', client.currency);
  const book = metricBook(client.metrics);
  const metrics = blockKind(block)
    .metricsOf(block)
    .map((key) => (book.has(key) ? book.labelOf(key, words.metrics) : key));
  const title = 'title' in block && typeof block.title === 'string' ? block.title.trim() : '';
  return title || metrics.slice(0, 3).join(', ');
}

/** What a kind of block is called in the interface. */
export const kindOfBlock = (block: Block, client: Pick<StoredClient, 'currency'>): string =>
  formatterOf('en-GB', client.currency).words.blocks[block.kind] ?? block.kind;

/** A block as a person speaks of it: `Ranking: Visits`. */
export function nameOfBlock(block: Block, client: Pick<StoredClient, 'metrics' | 'currency'>): string {
  const about = aboutBlock(block, client);
  const kind = kindOfBlock(block, client);
  return about === '' ? kind : `${kind}: ${about}`;
}
