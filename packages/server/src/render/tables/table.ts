import type { CivilDate } from '@chronicon/core/calendar';
import type { MetricUnit } from '@chronicon/core/figures';
import { harmless } from '../../platform/harmless.ts';

/** One cell of an exported table. Figures stay numbers, dates stay dates; only words are text. */
export type Cell =
  | { kind: 'text'; text: string }
  | { kind: 'date'; date: CivilDate }
  | { kind: 'number'; value: number; unit: MetricUnit }
  | { kind: 'empty' };

export interface Table {
  title: string;
  /** Who made it: the agency. */
  author: string;
  /** Sentences over the table: what it covers, what it is held against. */
  about: string[];
  head: string[];
  rows: Cell[][];
  currency: string;
}

export const textCell = (text: string): Cell => ({ kind: 'text', text: harmless(text) });
