import type { Answers } from './questions.ts';

/** The addresses of the pictures of all items that stand out, each once, in the order in which they stand. */
export function picturesOf(answers: Answers): string[] {
  const shown = Object.values(answers).flatMap((a) =>
    a?.op === 'items' && !('na' in a.standing) ? [...a.standing.best, ...a.standing.worst] : [],
  );
  return [...new Set(shown.flatMap(({ picture }) => picture ?? []))];
}
