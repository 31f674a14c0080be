import type { Answers, MetricBook } from '../figures/index.ts';
import type { Logo } from '../report/index.ts';
import type { Formatter } from '../words/index.ts';
import type { DrawOrder } from './drawOrder.ts';
import type { PageRuler, Ruler } from './ruler.ts';

/** What of an order the pages tell; the rest is what its figures are asked by. */
export type ToldOrder = Omit<
  DrawOrder,
  | 'clientId'
  | 'metrics'
  | 'usual'
  | 'targets'
  | 'holidays'
  | 'mailMetrics'
  | 'mailBlocks'
  | 'language'
  | 'currency'
  | 'pictures'
>;

/** Everything a page is made of. Composing is pure over it. */
export interface ComposeInput extends ToldOrder {
  answers: Answers;
  /** Pictures of items by the address at which they are found. */
  pictures?: Readonly<Record<string, Logo | null>> | undefined;
  book: MetricBook;
  format: Formatter;
  ruler: Ruler;
}

/** The same, with a ruler of the page's own language and direction. */
export type PageInput = Omit<ComposeInput, 'ruler'> & { ruler: PageRuler };
