import { metricBook } from '@chronicon/core/figures';
import type { Frozen } from '@chronicon/core/page';
import {
  dateFields,
  escapeHtml,
  figureFields,
  fileNameOf,
  fillMergeFields,
  type MergeContext,
  type MergeFault,
  type Otherwise,
  wholeScope,
} from '@chronicon/core/report';
import { fill, formatterOf } from '@chronicon/core/words';

export interface MailParts {
  subject: string;
  html: string;
  text: string;
  fileName: string;
}

/** Values of merge fields that come from an edition's frozen figures, so that mail and PDF never differ. */
export function mergeContextOf(
  frozen: Frozen,
  people: { firstName: string; manager: string; number: string },
): MergeContext {
  const { order, answers } = frozen;
  const format = formatterOf(order.language, order.currency);
  const whole = wholeScope(order.document, order);
  const book = metricBook(order.metrics);
  const context: Record<string, string | Otherwise | null> = {
    'client.name': order.clientName,
    'contact.firstName': people.firstName,
    ...dateFields(whole, format),
    'report.title': order.title,
    'edition.number': people.number,
    'agency.name': order.agencyName,
    'manager.name': people.manager,
  };
  const told = { answers, book, format, dayNotes: order.dayNotes };
  for (const { key } of book.metrics) {
    const { figure, change } = figureFields(key, whole, told);
    context[`figure.${key}`] = figure;
    context[`change.${key}`] = change;
  }
  return context;
}

const paragraphs = (text: string): string[] =>
  text
    .split(/\n\s*\n/)
    .map((p) => p.trim())
    .filter((p) => p !== '');

/** A quiet mail that reads on a phone: the message, and what is attached. No pictures, nothing fetched. */
function htmlOf(message: string, foot: readonly string[], colour: string, lang: string): string {
  const body = paragraphs(message)
    .map((p) => `<p style="margin:0 0 14px">${escapeHtml(p).replace(/\n/g, '<br>')}</p>`)
    .join('\n');
  return `<!doctype html>
<html lang="${escapeHtml(lang)}"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width"></head>
<body style="margin:0;background:#ffffff;color:#1c2630;font:16px/1.5 Georgia,'Times New Roman',serif">
<div style="max-width:560px;margin:0 auto;padding:20px 16px">
<div style="height:4px;background:${colour};margin:0 0 20px"></div>
${body}
<p style="margin:20px 0 0;padding:12px 0 0;border-top:1px solid #ddd8cb;color:#5b6570;font:14px/1.4 Arial,sans-serif">${foot.map((line) => escapeHtml(line).replace(/\n/g, '<br>')).join('<br><br>')}</p>
</div></body></html>`;
}

/** Fills a mail for one reader, or tells which field cannot be filled: a reader never sees braces or a gap. */
export function composeMail(
  frozen: Frozen,
  template: { subject: string; message: string },
  context: MergeContext,
  isTest: boolean,
  postalAddress = '',
): { ok: true; mail: MailParts } | { ok: false; fault: MergeFault } {
  const { keys } = metricBook(frozen.order.metrics);
  const subject = fillMergeFields(template.subject, 'header', keys, context);
  if (!subject.ok) return subject;
  const message = fillMergeFields(template.message, 'text', keys, context);
  if (!message.ok) return message;
  const { order } = frozen;
  const format = formatterOf(order.language, order.currency);
  const period = format.running(order.period);
  const attached = fill(format.words.mail.attached, { title: order.title, period });
  const sender = postalAddress === '' ? [] : [`${order.agencyName}\n${postalAddress}`];
  const foot = [attached, ...sender];
  return {
    ok: true,
    mail: {
      subject: isTest ? fill(format.words.mail.test, { subject: subject.text }) : subject.text,
      text: `${message.text.trim()}\n\n--\n${foot.join('\n\n')}\n`,
      html: htmlOf(message.text, foot, order.brand.main, order.language),
      fileName: fileNameOf([order.clientName, order.title, format.range(order.period)], 'pdf'),
    },
  };
}
