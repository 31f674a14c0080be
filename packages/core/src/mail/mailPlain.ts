import type { MailContent, MailSection } from './content.ts';

type Words = { more: string };

const paragraph = (lines: readonly string[]): string => lines.filter((l) => l !== '').join('\n');

const under = (title: string, lines: readonly string[]): string => paragraph([title, ...lines]);

/** A figure on one line, and what it is held against after it. */
function figureLine({
  label,
  figure,
  change,
  verdict,
  lines,
}: Extract<MailSection, { kind: 'figures' }>['figures'][number]) {
  const told = [[change, verdict].filter((t) => t !== '').join(' '), ...lines].filter((t) => t !== '');
  return `${label}: ${figure}${told.length > 0 ? ` (${told.join('; ')})` : ''}`;
}

function sectionText(section: MailSection, { more }: Words): string {
  switch (section.kind) {
    case 'text':
      return section.text.trim();
    case 'dates':
      return section.text;
    case 'sentence':
      return paragraph([section.text, section.about, ...section.notes]);
    case 'figures':
      return paragraph([section.about, ...section.figures.map(figureLine), ...section.notes]);
    case 'table': {
      const { title, heads, lines, about, notes } = section;
      const rows = lines.map(
        ({ label, cells }) => `${label}: ${cells.map((c, i) => `${heads[i]} ${c.text}`).join('; ')}`,
      );
      return under(title, [
        about,
        ...rows,
        section.more > 0 ? more.replace('{count}', String(section.more)) : '',
        ...notes,
      ]);
    }
    case 'chart':
      return under(section.title, [section.about, section.alt, ...section.notes]);
    case 'reason':
      return under(section.title, [section.about, section.text, ...section.notes]);
    case 'note':
      return under(section.from, [section.text.trim()]);
    case 'button':
      return `${section.label}:\n${section.link}`;
    case 'signature':
      return paragraph([section.closing, section.name, section.of, section.email]);
  }
}

/**
 * The mail as plain text (RFC 2046 §4.1.3): part by part what the HTML says, figures, notes and links included, so that who
 * reads it there misses nothing.
 */
export function mailPlain(content: MailContent, words: Words): string {
  const parts = content.sections.map((s) => sectionText(s, words)).filter((t) => t !== '');
  const { unsubscribe: u } = content;
  const foot = [...content.foot, ...(u ? [`${u.label}: ${u.link}`] : [])];
  return `${parts.join('\n\n')}\n\n--\n${foot.join('\n\n')}\n`;
}
