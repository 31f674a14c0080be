import { EASY_SHEETS } from '../bounds/index.ts';
import type { Scene } from './scene.ts';

const MOST_NAMED = 5;

/** A character by its code and name-like form: whoever reads this may have no face for it either. */
const named = (grapheme: string): string =>
  Array.from(grapheme, (c) => `U+${c.codePointAt(0)!.toString(16).toUpperCase().padStart(4, '0')}`).join(' ');

/** What no face can draw of a report, in a sentence for the manager (the interface is English); null for nothing. */
export function undrawableIn({ pages }: Pick<Scene, 'pages'>): string | null {
  const lost = new Set(pages.flatMap((p) => p.ops.flatMap((op) => (op.k === 'text' && op.lost ? [op.lost] : []))));
  if (lost.size === 0) return null;
  const some = [...lost].slice(0, MOST_NAMED).map(named);
  const more = lost.size > some.length ? ` and ${lost.size - some.length} more` : '';
  return `No font supports ${some.join(', ')}${more}; shown as an empty box.`;
}

/** What a manager is told of a report before it is sent: characters that are lost, and more sheets than anybody reads. */
export function remarksOf(scene: Pick<Scene, 'pages'>): string[] {
  const sheets = scene.pages.length;
  const long = `${sheets} pages. Long reports are rarely read to the end – consider hiding pages or table rows.`;
  return [undrawableIn(scene), sheets > EASY_SHEETS ? long : null].filter((r) => r !== null);
}
