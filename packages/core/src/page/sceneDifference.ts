import type { Op, Scene, ScenePage } from './scene.ts';

/** Points by which something may lie elsewhere and be called the same place. */
const NEAR = 0.05;

const textOf = (op: Op): string | null => (op.k === 'text' && op.text.trim() !== '' ? op.text.trim() : null);

const placeOf = (op: Op): string => {
  switch (op.k) {
    case 'text':
    case 'rect':
    case 'image':
      return `${op.x}, ${op.y}`;
    default:
      return '';
  }
};

/** How often each text stands on a page. */
function counted(page: ScenePage): Map<string, number> {
  const counts = new Map<string, number>();
  for (const op of page.ops) {
    const text = textOf(op);
    if (text !== null) counts.set(text, (counts.get(text) ?? 0) + 1);
  }
  return counts;
}

function* pageDifference(before: ScenePage, after: ScenePage): Generator<string> {
  const [was, is] = [counted(before), counted(after)];
  for (const [text, n] of was) if ((is.get(text) ?? 0) < n) yield `gone: “${text}”`;
  for (const [text, n] of is) if ((was.get(text) ?? 0) < n) yield `new: “${text}”`;
  const moved = before.ops.flatMap((op, i) => {
    const now = after.ops[i];
    if (op.k !== 'text' || now?.k !== 'text' || op.text !== now.text) return [];
    const far = Math.max(Math.abs(op.x - now.x), Math.abs(op.y - now.y), Math.abs(op.size - now.size));
    return far > NEAR ? [`moved: “${op.text.trim()}” from ${placeOf(op)} to ${placeOf(now)}`] : [];
  });
  yield* moved;
  const [a, b] = [before, after].map((p) => JSON.stringify(p.ops.filter((op) => op.k !== 'text')));
  if (a !== b) yield 'lines, areas or pictures differ';
}

/** In what two drawings of the same differ, page by page, in words; nothing where they are equal to the byte. */
export function sceneDifference(before: Scene, after: Scene): string[] {
  if (JSON.stringify(before) === JSON.stringify(after)) return [];
  const found: string[] = [];
  if (before.title !== after.title) found.push(`the title: “${before.title}” became “${after.title}”`);
  if (before.pages.length !== after.pages.length)
    found.push(`${before.pages.length} pages became ${after.pages.length}`);
  before.pages.forEach((page, i) => {
    const now = after.pages[i];
    if (now) for (const line of pageDifference(page, now)) found.push(`page ${i + 1}: ${line}`);
  });
  return found.length > 0 ? found : ['they differ in what is not seen: blocks, language or author'];
}
