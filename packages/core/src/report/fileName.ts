import { FILE_NAME } from '../bounds/index.ts';
import { escapeFor } from './mergeFields.ts';

/**
 * A file name made of parts: safe in any folder, with plain blanks and dashes alone, at most {@link FILE_NAME}
 * characters with its ending. What is too long is cut from the first part on, so that the last one (the dates) stays.
 */
export function fileNameOf(parts: readonly string[], ending: string): string {
  const plain = parts.map((p) =>
    escapeFor('filename', p.replace(/[\p{Zs}\u200b-\u200f\u202a-\u202e\u2066-\u2069]+/gu, ' ').replace(/[‐-―]/g, '-'))
      .replace(/ {2,}/g, ' ')
      .replace(/^[. ]+|[. ]+$/g, ''),
  );
  const whole = () => `${plain.filter((p) => p !== '').join(' ')}.${ending}`;
  for (let i = 0; i < plain.length; i++) {
    const over = whole().length - FILE_NAME;
    if (over <= 0) break;
    // By code points: half of a pair is no character.
    const letters = [...plain[i]!];
    while (letters.length > 1 && letters.join('').length > Math.max(1, plain[i]!.length - over)) letters.pop();
    plain[i] = letters.join('').trim();
  }
  const name = whole();
  return name.startsWith('.') ? `report${name}` : name;
}
