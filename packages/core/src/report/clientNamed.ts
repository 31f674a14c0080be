/** What stands in a template where a client's own name did. */
export const CLIENT_NAME = '{{client.name}}';

const FIELD = /\{\{\s*client\.name\s*(?:\|[^{}]*)?\}\}/g;
const escaped = (text: string): string => text.replace(/[.*+?^${}()|[\]\\]/g, '\\$&');

/** A text with a field in the place of a client's name, wherever that stands as whole words, in whatever case. */
export const withoutName = (text: string, name: string): string =>
  name.trim() === ''
    ? text
    : text.replace(new RegExp(`(?<![\\p{L}\\p{N}])${escaped(name.trim())}(?![\\p{L}\\p{N}])`, 'giu'), CLIENT_NAME);

/**
 * A text with a client's name in the place of its field. Where there is no room for all of the name, as much of it as fits.
 *
 * @example
 * namedFor('{{client.name}} in short', 'Alder & Finch', 80) // 'Alder & Finch in short'
 */
export function namedFor(text: string, name: string, most: number): string {
  const fields = [...text.matchAll(FIELD)];
  if (fields.length === 0) return text;
  const others = text.length - fields.reduce((n, f) => n + f[0].length, 0);
  const room = Math.max(1, Math.floor((most - others) / fields.length));
  const fitting =
    name.length <= room
      ? name
      : `${[...name]
          .slice(0, room - 1)
          .join('')
          .trimEnd()}…`;
  return text.replace(FIELD, () => fitting).slice(0, most);
}

/** Whether a text says a word of a client's name, or all of it where its words are short. */
export function namesClient(text: string, name: string): boolean {
  const words = (of: string) => of.toLowerCase().match(/[\p{L}\p{N}]+/gu) ?? [];
  const own = words(name).filter((w) => w.length >= 4);
  const said = words(text);
  return said.some((w) => own.includes(w)) || withoutName(text, name) !== text;
}
