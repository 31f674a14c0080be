/** The longest subject that is shown. */
const LONGEST = 200;

/** What a mail calls itself, as it stands in its head: it may be damaged, so nothing is decoded. Empty where it says nothing. */
export function subjectOf(raw: Buffer): string {
  const text = raw.subarray(0, 64 * 1024).toString('latin1');
  const head = text.slice(0, /\r?\n\r?\n/.exec(text)?.index ?? text.length);
  const [, value = ''] = /^subject:((?:.*)(?:\r?\n[ \t].*)*)/im.exec(head) ?? [];
  return value
    .replace(/[^\x20-\x7e]+/g, ' ')
    .replace(/ +/g, ' ')
    .trim()
    .slice(0, LONGEST);
}
