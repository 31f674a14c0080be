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
export interface Kept {
  /** Answers from one state of a client's facts, metrics and targets, by the keys of their questions. */
  answersOf(basis: string): Map<string, KeptAnswer>;
  memoOf(basis: string): PageMemo;
}

/** States of clients, and sheets, that are kept at once. */
const BASES = 8;
const SHEETS = 240;
/** Answers of one state: beyond that all are asked anew. */
const ANSWERS = 4_000;

export const digest = (text: string): string => createHash('sha256').update(text).digest('base64url');

export function createKept(): Kept {
  const answers = new LRUCache<string, Map<string, KeptAnswer>>({ max: BASES });
  const sheets = new LRUCache<string, NonNullable<ReturnType<PageMemo['get']>>>({ max: SHEETS });
  return {
    answersOf(basis) {
      const found = answers.get(basis);
      if (found && found.size <= ANSWERS) return found;
      const fresh = new Map<string, KeptAnswer>();
      answers.set(basis, fresh);
      return fresh;
    },
    memoOf: (basis) => ({ basis, get: (key) => sheets.get(key), set: (key, kept) => void sheets.set(key, kept) }),
  };
}
