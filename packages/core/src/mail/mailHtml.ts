import { rgbOf } from '../page/index.ts';
import { escapeHtml, type Tone } from '../report/index.ts';
import type { FigureLine, MailContent, MailSection } from './content.ts';

/** As wide as a mail is, in CSS pixels: programs on a desk show so much beside their lists. */
export const MAIL_WIDTH = 600;
/** On each side of what it says, in CSS pixels. */
export const MAIL_PAD = 28;

/** Of what every mail has, by day. Inline: programs that read no style sheet have these. */
const LIGHT = {
  sheet: '#ffffff',
  ink: '#1c2630',
  muted: '#5b6570',
  rule: '#ddd8cb',
  better: '#2c7350',
  worse: '#a23b2c',
};
/** By night: where a program reads style sheets and asks for it. Each is told from its ground at 4.5 or better. */
const DARK = {
  ground: '#12161b',
  sheet: '#1b2128',
  ink: '#ece8df',
  muted: '#aeb5bd',
  rule: '#3a424c',
  better: '#7ccba1',
  worse: '#f0a394',
};

/** Which scheme a preview shows; by itself a mail has whichever its reader's program asks for. */
export type MailScheme = 'asked' | 'light' | 'dark';

const SANS = 'Arial,Helvetica,sans-serif';
const SERIF = "Georgia,'Times New Roman',serif";

const text = (said: string): string => escapeHtml(said).replace(/\n/g, '<br>');

const paragraphs = (said: string): string[] =>
  said
    .split(/\n\s*\n/)
    .map((p) => p.trim())
    .filter((p) => p !== '');

/** A colour that is seen on the dark sheet, made of one that is seen on white: the same hue, lighter. */
function lighter(hex: string): string {
  const mixed = rgbOf(hex).map((v) => Math.round(v + (255 - v) * 0.62));
  return `#${mixed.map((v) => v.toString(16).padStart(2, '0')).join('')}`;
}

function styleSheet({ style: { main } }: MailContent, scheme: MailScheme): string {
  const dark = `.ground{background:${DARK.ground}!important}
.sheet{background:${DARK.sheet}!important}
.ink{color:${DARK.ink}!important}
.muted{color:${DARK.muted}!important}
.rule{border-color:${DARK.rule}!important}
.better{color:${DARK.better}!important}
.worse{color:${DARK.worse}!important}
.main{color:${lighter(main)}!important}
.edge{border-color:${lighter(main)}!important}`;
  const asked = { asked: '@media (prefers-color-scheme:dark)', light: '@media not all', dark: '@media all' }[scheme];
  return `@media (max-width:620px){.pad{padding-left:16px!important;padding-right:16px!important}.num{white-space:normal!important}}
@media (max-width:420px){.rule{font-size:13px!important}.num{padding-left:6px!important}.muted.rule{font-size:12px!important;overflow-wrap:anywhere;hyphens:auto}}
${asked}{
${dark}
}`;
}

/** Parts of the mail's markup that hang on its direction and its kit. */
interface Hand {
  start: 'left' | 'right';
  end: 'left' | 'right';
  face: string;
  main: string;
}

const notesHtml = (about: string, notes: readonly string[]): string =>
  [about, ...notes]
    .filter((n) => n !== '')
    .map((n) => `<p class="muted" style="margin:6px 0 0;color:${LIGHT.muted};font:13px/1.45 ${SANS}">${text(n)}</p>`)
    .join('\n');

const title = (said: string): string =>
  said === ''
    ? ''
    : `<h2 class="ink" style="margin:0 0 6px;color:${LIGHT.ink};font:bold 16px/1.35 ${SANS}">${text(said)}</h2>`;

const toneClass = (tone: Tone): string => (tone === 'plain' ? 'muted' : tone);
const toneColour = (tone: Tone): string => (tone === 'plain' ? LIGHT.muted : LIGHT[tone]);

function figureRow({ label, figure, change, verdict, tone, lines }: FigureLine, { end, start, face }: Hand): string {
  const told = [change, verdict].filter((t) => t !== '').join(' ');
  const beneath = lines.map(
    (l) => `<br><span class="muted" style="color:${LIGHT.muted};font-size:13px">${text(l)}</span>`,
  );
  return `<tr><th scope="row" class="ink rule" align="${start}" style="padding:9px 0;border-top:1px solid ${LIGHT.rule};color:${LIGHT.ink};font:15px/1.35 ${SANS};vertical-align:top">${text(label)}</th>
<td class="ink rule" align="${end}" style="padding:7px 0 9px 12px;border-top:1px solid ${LIGHT.rule};color:${LIGHT.ink};font:15px/1.35 ${SANS};vertical-align:top"><span style="font:bold 22px/1.2 ${face}">${text(figure)}</span>${
    told === ''
      ? ''
      : `<br><span class="${toneClass(tone)}" style="color:${toneColour(tone)};font-weight:bold">${text(told)}</span>`
  }${beneath.join('')}</td></tr>`;
}

const table = (rows: string): string =>
  `<table width="100%" cellpadding="0" cellspacing="0" border="0" style="width:100%;border-collapse:collapse">\n${rows}\n</table>`;

function tableHtml(section: Extract<MailSection, { kind: 'table' }>, { end, start }: Hand): string {
  const { head, heads, lines, rest } = section;
  const headCell = (said: string, side: string, pad: string) =>
    `<th scope="col" class="muted rule" align="${side}" style="padding:${pad};border-bottom:1px solid ${LIGHT.rule};color:${LIGHT.muted};font:bold 13px/1.3 ${SANS};vertical-align:bottom">${text(said)}</th>`;
  const rows = lines.map(({ label, link, isTotal, cells }) => {
    const weight = isTotal ? 'bold ' : '';
    const shown = link
      ? `<a class="ink" href="${escapeHtml(link)}" style="color:${LIGHT.ink}">${text(label)}</a>`
      : text(label);
    const cell = (c: { text: string; tone: Tone }) =>
      `<td class="${c.tone === 'plain' ? 'ink' : c.tone} rule num" align="${end}" style="padding:7px 0 7px 10px;border-bottom:1px solid ${LIGHT.rule};color:${c.tone === 'plain' ? LIGHT.ink : LIGHT[c.tone]};font:${weight}14px/1.35 ${SANS};white-space:nowrap">${text(c.text)}</td>`;
    return `<tr><th scope="row" class="ink rule" align="${start}" style="padding:7px 0;border-bottom:1px solid ${LIGHT.rule};color:${LIGHT.ink};font:${weight}14px/1.35 ${SANS};word-break:break-word">${shown}</th>${cells.map(cell).join('')}</tr>`;
  });
  const top = `<tr>${headCell(head, start, '0 0 5px')}${heads.map((h) => headCell(h, end, '0 0 5px 10px')).join('')}</tr>`;
  return `${title(section.title)}${notesHtml(section.about, [])}${table([top, ...rows].join('\n'))}${notesHtml(rest, section.notes)}`;
}

function sectionHtml(section: MailSection, hand: Hand): string {
  const { face, main, start } = hand;
  switch (section.kind) {
    case 'text':
      return [
        ...paragraphs(section.text).map(
          (p) => `<p class="ink" style="margin:0 0 14px;color:${LIGHT.ink};font:16px/1.5 ${face}">${text(p)}</p>`,
        ),
        notesHtml('', section.notes ?? []),
      ].join('\n');
    case 'dates':
      return `<p class="muted" style="margin:0;color:${LIGHT.muted};font:14px/1.4 ${SANS}">${text(section.text)}</p>`;
    case 'sentence':
      return `<p class="ink edge" style="margin:0;padding:2px 14px;border-${start}:3px solid ${main};color:${LIGHT.ink};font:19px/1.45 ${SERIF}">${text(section.text)}</p>${notesHtml(section.about, section.notes)}`;
    case 'figures':
      return `${notesHtml(section.about, [])}${table(section.figures.map((f) => figureRow(f, hand)).join('\n'))}${notesHtml('', section.notes)}`;
    case 'table':
      return tableHtml(section, hand);
    case 'chart': {
      const { picture, alt, about, notes } = section;
      const img = `<img src="cid:${picture.cid}" width="${picture.width}" alt="${escapeHtml(alt || section.title)}" style="display:block;width:100%;max-width:${picture.width}px;height:auto;border:0;background:#ffffff;color:#1c2630;font:13px/1.4 ${SANS}">`;
      return `${img}${notesHtml(about, notes)}`;
    }
    case 'reason':
      return `${title(section.title)}<p class="muted" style="margin:0;color:${LIGHT.muted};font:14px/1.4 ${SANS}">${text(section.text)}</p>${notesHtml(section.about, section.notes)}`;
    case 'note': {
      const said = paragraphs(section.text)
        .map((p) => `<p class="ink" style="margin:6px 0 0;color:${LIGHT.ink};font:16px/1.5 ${face}">${text(p)}</p>`)
        .join('\n');
      return `<p class="main" style="margin:0;color:${main};font:bold 14px/1.4 ${SANS}">${text(section.from)}</p>${said}`;
    }
    case 'button':
      return `<table role="presentation" cellpadding="0" cellspacing="0" border="0"><tr><td style="background:${main};padding:11px 20px"><a href="${escapeHtml(section.link)}" style="color:#ffffff;font:bold 16px/1.3 ${SANS};text-decoration:none">${text(section.label)}</a></td></tr></table>`;
    case 'signature': {
      const mail = `<a class="main" href="mailto:${escapeHtml(section.email)}" style="color:${main}">${text(section.email)}</a>`;
      return `<p class="ink" style="margin:0;color:${LIGHT.ink};font:15px/1.5 ${face}">${text(section.closing)}<br><b>${text(section.name)}</b>${section.of === '' ? '' : `<br>${text(section.of)}`}${section.email === '' ? '' : `<br>${mail}`}</p>`;
    }
  }
}

/** Space above a part, in CSS pixels: what belongs to what stands before it is nearer. */
const above = (kind: MailSection['kind'], before: MailSection['kind'] | undefined): number => {
  if (before === undefined) return 0;
  if (before === 'dates') return 8;
  return kind === 'text' && before === 'text' ? 0 : before === 'text' ? 8 : 24;
};

function headHtml({ head, style, clientName }: MailContent, { face }: Hand): string {
  const band = style.isSheet
    ? `<tr><td class="pad" style="background:${style.main};padding:14px ${MAIL_PAD}px;color:#ffffff;font:bold 18px/1.3 ${face}">${text(clientName)}</td></tr>`
    : `<tr><td style="background:${style.main};height:4px;line-height:4px;font-size:0">&nbsp;</td></tr>`;
  if (!head) return band;
  const { picture, alt, isWide, onMain } = head;
  const img = `<img src="cid:${picture.cid}" width="${picture.width}" alt="${escapeHtml(alt)}" style="display:block;width:${isWide ? '100%' : 'auto'};max-width:${picture.width}px;height:auto;border:0;color:${onMain ? '#ffffff' : LIGHT.ink};font:bold 18px/1.3 ${face}">`;
  // A logo is made for paper: it keeps its white ground by night.
  return isWide
    ? `<tr><td style="background:#ffffff">${img}</td></tr>\n${band}`
    : `<tr><td class="pad" style="background:${onMain ? style.main : '#ffffff'};padding:18px ${MAIL_PAD}px 14px">${img}</td></tr>\n${band}`;
}

/**
 * The mail as HTML that mail programs agree on: tables and inline style, 600 CSS pixels wide and narrower where the window
 * is, nothing fetched from anywhere, colours of its own by night.
 */
export function mailHtml(content: MailContent, scheme: MailScheme = 'asked'): string {
  const { lang, direction, style, sections, foot, preview, subject } = content;
  const rtl = direction === 'rtl';
  const hand: Hand = {
    start: rtl ? 'right' : 'left',
    end: rtl ? 'left' : 'right',
    face: style.serif ? SERIF : SANS,
    main: style.main,
  };
  const rows = sections.map((section, i) => {
    const top = above(section.kind, sections[i - 1]?.kind);
    return `<tr><td class="pad" style="padding:${top}px ${MAIL_PAD}px 0">${sectionHtml(section, hand)}</td></tr>`;
  });
  // What follows the preview in programs that show more than it is pushed out of sight.
  const hidden =
    preview === ''
      ? ''
      : `<div style="display:none;max-height:0;overflow:hidden;mso-hide:all">${text(preview)}${'&#8199;&#65279;'.repeat(60)}</div>\n`;
  const { unsubscribe: u } = content;
  const leave = u
    ? [`<a class="muted" href="${escapeHtml(u.link)}" style="color:${LIGHT.muted}">${text(u.label)}</a>`]
    : [];
  const ground = style.isSheet ? style.ground : '#ffffff';
  return `<!doctype html>
<html lang="${escapeHtml(lang)}" dir="${direction}"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width">
<meta name="color-scheme" content="light dark"><meta name="supported-color-schemes" content="light dark">
<title>${escapeHtml(subject)}</title>
<style>${styleSheet(content, scheme)}</style></head>
<body class="ground" style="margin:0;padding:0;background:${ground}">
${hidden}<table role="presentation" class="ground" width="100%" cellpadding="0" cellspacing="0" border="0" style="background:${ground}"><tr><td align="center" style="padding:20px 0">
<table role="presentation" class="sheet" width="${MAIL_WIDTH}" cellpadding="0" cellspacing="0" border="0" dir="${direction}" style="width:100%;max-width:${MAIL_WIDTH}px;background:${LIGHT.sheet};text-align:${hand.start}">
${headHtml(content, hand)}
<tr><td style="height:22px;line-height:22px;font-size:0">&nbsp;</td></tr>
${rows.join('\n')}
<tr><td class="pad" style="padding:26px ${MAIL_PAD}px 24px"><div class="muted rule" style="padding:12px 0 0;border-top:1px solid ${LIGHT.rule};color:${LIGHT.muted};font:13px/1.45 ${SANS}">${[...foot.map(text), ...leave].join('<br><br>')}</div></td></tr>
</table></td></tr></table>
</body></html>`;
}
