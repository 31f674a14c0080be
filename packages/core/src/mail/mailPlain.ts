import { fill, type Words } from '../words/index.ts';
import type { MailContent, MailSection } from './content.ts';

/** How the language joins the parts of a line. */
type Joins = Pick<Words, 'labelled' | 'aside' | 'semicolon'>;

const paragraph = (lines: readonly string[]): string => lines.filter((l) => l !== '').join('\n');

const under = (title: string, lines: readonly string[]): string => paragraph([title, ...lines]);

const joined = (parts: readonly string[], { semicolon }: Joins): string =>
  parts
    .filter((t) => t !== '')
    .reduce((first, second) => (first === '' ? second : fill(semicolon, { first, second })), '');

/** A figure on one line, and what it is compared with after it. */
function figureLine(
  { label, figure, change, verdict, lines }: Extract<MailSection, { kind: 'figures' }>['figures'][number],
  words: Joins,
): string {
  const told = joined([[change, verdict].filter((t) => t !== '').join(' '), ...lines], words);
  const text = told === '' ? figure : fill(words.aside, { text: figure, aside: told });
  return fill(words.labelled, { label, text });
}

function sectionText(section: MailSection, words: Joins): string {
  switch (section.kind) {
    case 'text':
      return paragraph([section.text.trim(), ...(section.notes ?? [])]);
    case 'dates':
      return section.text;
    case 'sentence':
      return paragraph([section.text, section.about, ...section.notes]);
    case 'figures':
      return paragraph([section.about, ...section.figures.map((f) => figureLine(f, words)), ...section.notes]);
    case 'table': {
      const { title, heads, lines, about, notes, rest } = section;
      const rows = lines.map(({ label, cells }) => {
        const said = cells.map((c, i) => `${heads[i]} ${c.text}`);
        return fill(words.labelled, { label, text: joined(said, words) });
      });
      return under(title, [about, ...rows, rest, ...notes]);
    }
    case 'chart':
      return under(section.title, [section.about, section.alt, ...section.notes]);
    case 'reason':
      return under(section.title, [section.about, section.text, ...section.notes]);
    case 'note':
      return under(section.from, [section.text.trim()]);
    case 'button':
      return `${section.label}\n${section.link}`;
    case 'signature':
      return paragraph([section.closing, section.name, section.of, section.email]);
  }
}

/**
 * The mail as plain text (RFC 2046 §4.1.3): part by part what the HTML says, figures, notes and links included, so that who
 * reads it there misses nothing.
 */
export function mailPlain(content: MailContent, words: Joins): string {
  const parts = content.sections.map((s) => sectionText(s, words)).filter((t) => t !== '');
  const { unsubscribe: u } = content;
  const foot = [...content.foot, ...(u ? [fill(words.labelled, { label: u.label, text: u.link })] : [])];
  return `${parts.join('\n\n')}\n\n--\n${foot.join('\n\n')}\n`;
}
