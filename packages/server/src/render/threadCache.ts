import { createHash } from 'node:crypto';
import type { Answer, Lack } from '@chronicon/core/figures';
import type { PageMemo } from '@chronicon/core/page';
import { LRUCache } from 'lru-cache';

/** An answer, with what a service has not counted of it. */
export interface KeptAnswer {
  answer: Answer;
  uncounted: readonly Lack[];
}

/** Answers and sheets that a thread keeps of the reports that are being edited: what did not change is not made anew. */
export interface ThreadCache {
  /** Answers from one state of a client's facts, metrics and targets, by the keys of their questions. */
  answersOf(basis: string): Map<string, KeptAnswer>;
  memoOf(basis: string): PageMemo;
}

/** States of clients, and sheets, that are kept at once. */
const BASES = 8;
const SHEETS = 240;
/** Values in the answers of one state, some ten megabytes: beyond that all are asked anew. */
const VALUES = 50_000;

/** How many values an answer holds: a table has as many as rows. */
const valuesIn = (held: unknown): number => {
  if (Array.isArray(held)) return held.length;
  if (held === null || typeof held !== 'object') return 1;
  return Object.values(held).reduce((n: number, inner) => n + valuesIn(inner), 0);
};

class Answered extends Map<string, KeptAnswer> {
  held = 0;
  override set(key: string, kept: KeptAnswer): this {
    this.held += valuesIn(kept.answer);
    return super.set(key, kept);
  }
}

export const digest = (text: string): string => createHash('sha256').update(text).digest('base64url');

export function createThreadCache(): ThreadCache {
  const answers = new LRUCache<string, Answered>({ max: BASES });
  const sheets = new LRUCache<string, NonNullable<ReturnType<PageMemo['get']>>>({
    maxSize: SHEETS,
    sizeCalculation: (page) => Math.max(1, page.sheets.length),
  });
  return {
    answersOf(basis) {
      const found = answers.get(basis);
      // Never in the midst of a page: what was found has to be there until it is drawn.
      if (found && found.held <= VALUES) return found;
      const fresh = new Answered();
      answers.set(basis, fresh);
      return fresh;
    },
    memoOf: (basis) => ({ basis, get: (key) => sheets.get(key), set: (key, kept) => void sheets.set(key, kept) }),
  };
}
