import { escapeHtml } from '@chronicon/core/report';
import type { Words } from '@chronicon/core/words';

/** The house’s quiet colours: the page has no style sheet, and runs nothing. */
const STYLE =
  'margin:0;background:#f7f5ef;color:#1c2630;font:17px/1.5 Georgia,serif;display:grid;place-items:center;min-height:100vh';
const CARD = 'background:#fff;border:1px solid #ddd8cb;border-radius:6px;padding:28px 32px;max-width:30rem;margin:16px';
const BUTTON =
  'font:bold 16px/1.3 Arial,sans-serif;background:#0f5e6b;color:#fff;border:0;border-radius:6px;padding:12px 18px';
const FIELD =
  'font:16px/1.3 Arial,sans-serif;padding:10px;border:1px solid #5b6570;border-radius:6px;width:100%;box-sizing:border-box';

export interface UnsubscribePage {
  lang: string;
  words: Words;
  /** What it says. */
  said: string;
  /** What pressing does; null where there is nothing to press. */
  press: string | null;
  /** Asked for where the link is nobody’s own; the answer is the same whosever it is. */
  asksAddress?: boolean;
}

/** The page on which a reader wants no more mails: it works without a script, in the reader’s language. */
export function unsubscribePage({ lang, words, said, press, asksAddress = false }: UnsubscribePage): string {
  const { leave } = words.mail;
  const field = asksAddress
    ? `<p><label>${escapeHtml(leave.address)}<br><input name="email" type="email" required autocomplete="email" style="${FIELD}"></label></p>`
    : '';
  const form =
    press === null
      ? ''
      : `<form method="post">${field}<p><button style="${BUTTON}">${escapeHtml(press)}</button></p></form>`;
  return `<!doctype html>
<html lang="${escapeHtml(lang)}" dir="${words.direction}"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width"><meta name="robots" content="noindex"><title>${escapeHtml(leave.title)}</title></head>
<body style="${STYLE}"><main style="${CARD}"><h1 style="font-size:24px;margin:0 0 10px">${escapeHtml(leave.title)}</h1>
<p role="status">${escapeHtml(said)}</p>${form}</main></body></html>`;
}
