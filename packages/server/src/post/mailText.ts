import { metricBook } from '@chronicon/core/figures';
import { type DrawOrder, type Frozen, readable, tint } from '@chronicon/core/page';
import {
  type Brand,
  dateFields,
  escapeHtml,
  figureFields,
  fileNameOf,
  fillMergeFields,
  type MergeContext,
  type MergeFault,
  type Otherwise,
  TYPEFACES,
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

/** Faces that mail programs have, as near to a kit's as may be. */
function fontOf({ typefaces }: Brand): string {
  const text = typefaces?.text;
  const isSans = text !== undefined && (typeof text !== 'string' || !TYPEFACES.find((t) => t.key === text)!.serif);
  return isSans ? 'Arial,Helvetica,sans-serif' : "Georgia,'Times New Roman',serif";
}

/** What the HTML of a mail calls a picture that goes with it. */
const cidOf = (file: string): string => `${file}@head`;

/** Files of the pictures that stand in a mail. */
export const picturesIn = (html: string): { cid: string; file: string }[] =>
  [...html.matchAll(/src="cid:([0-9a-f]{64})@head"/g)].map(([, file]) => ({ cid: cidOf(file!), file: file! }));

/**
 * A quiet mail that reads on a phone: the message, and what is attached, as the kit has mails look. Nothing is fetched: a
 * picture at its head goes with it.
 */
function htmlOf(message: string, foot: readonly string[], order: DrawOrder): string {
  const { brand, language: lang } = order;
  const colour = readable(brand.main);
  const head = brand.mailHead
    ? `<img src="cid:${cidOf(brand.mailHead.file)}" width="560" alt="${escapeHtml(order.agencyName)}" style="display:block;width:100%;max-width:560px;height:auto;border:0;margin:0 0 20px">\n`
    : '';
  const isSheet = brand.mailLook === 'sheet';
  const band = isSheet
    ? `<div style="background:${colour};color:#ffffff;margin:0 0 20px;padding:14px 16px;font:bold 18px/1.3 ${fontOf(brand)}">${escapeHtml(order.clientName)}</div>`
    : `<div style="height:4px;background:${colour};margin:0 0 20px"></div>`;
  const ground = isSheet ? tint(colour, 0.08) : '#ffffff';
  const sheet = isSheet ? 'background:#ffffff;' : '';
  const body = paragraphs(message)
    .map((p) => `<p style="margin:0 0 14px">${escapeHtml(p).replace(/\n/g, '<br>')}</p>`)
    .join('\n');
  return `<!doctype html>
<html lang="${escapeHtml(lang)}"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width"></head>
<body style="margin:0;background:${ground};color:#1c2630;font:16px/1.5 ${fontOf(brand)}">
<div style="${sheet}max-width:560px;margin:0 auto;padding:20px 16px">
${head}${band}
${body}
<p style="margin:20px 0 0;padding:12px 0 0;border-top:1px solid #ddd8cb;color:#5b6570;font:14px/1.4 Arial,sans-serif">${foot.map((line) => escapeHtml(line).replace(/\n/g, '<br>')).join('<br><br>')}</p>
</div></body></html>`;
}

/** Fills a mail for one reader, or tells which field cannot be filled: a reader never sees braces or a gap. */
export function composeMail(
  frozen: Frozen,
  template: { subject: string; message: string; fileName?: string | undefined },
  context: MergeContext,
  isTest: boolean,
  postalAddress = '',
): { ok: true; mail: MailParts } | { ok: false; fault: MergeFault } {
  const { keys } = metricBook(frozen.order.metrics);
  const subject = fillMergeFields(template.subject, 'header', keys, context);
  if (!subject.ok) return subject;
  const message = fillMergeFields(template.message, 'text', keys, context);
  if (!message.ok) return message;
  const named = fillMergeFields(template.fileName ?? '', 'filename', keys, context);
  if (!named.ok) return named;
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
      html: htmlOf(message.text, foot, order),
      fileName: fileNameOf(
        named.text === '' ? [order.clientName, order.title, format.range(order.period)] : [named.text],
        'pdf',
      ),
    },
  };
}
