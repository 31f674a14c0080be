import { clampSpec } from '../../calendar/index.ts';
import { type OrderSheet, orderSheetSchema } from '../orderSheet.ts';
import { parseStored, readAs } from './stored.ts';

/** A stored order sheet as today's code has it, its dates within today's bounds. @throws StoredError */
export function readOrderSheet(stored: string, what = 'an order sheet'): OrderSheet {
  const sheet = readAs(orderSheetSchema, parseStored(stored, what), what);
  return { ...sheet, period: clampSpec(sheet.period), comparison: clampSpec(sheet.comparison) };
}
