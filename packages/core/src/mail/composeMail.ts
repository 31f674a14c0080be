import { metricBook } from '../figures/index.ts';
import { type FrozenForMail, MAIL_LOGO, readable, tint } from '../page/index.ts';
import {
  type Brand,
  blockOfPart,
  comparisonHead,
  dateFields,
  figureFields,
  fileNameOf,
  fillMergeFields,
  isShown,
  type MailDesign,
  type MailPart,
  type MergeContext,
  type MergeFault,
  type MergeTarget,
  metricsNamed,
  type Otherwise,
  oddOf,
  PLAIN_MAIL,
  TYPEFACES,
  textsOfMail,
  wholeScope,
} from '../report/index.ts';
import { type Formatter, fill, formatterOf, oddNotes } from '../words/index.ts';
import type { MailContent, MailPicture, MailSection } from './content.ts';
import { MAIL_PAD, MAIL_WIDTH } from './mailHtml.ts';

/** What a mail is written from, beside its edition. */
export interface MailTexts {
  subject: string;
  message: string;
  fileName?: string | undefined;
  /** Left out: the message alone. */
  mail?: MailDesign | undefined;
  /** What the manager wrote for this edition; empty for nothing. */
  note?: string | undefined;
}

export interface MailPeople {
  firstName: string;
  manager: { name: string; email: string } | null;
  /** Of the edition; a dash where it has none. */
  number: string;
}

/** What stands around what a mail says. */
export interface MailFrame {
  isTest: boolean;
  postalAddress?: string;
  /** The page on which its reader has no more of them; left out: there is none. */
  unsubscribe?: string | null;
}

export type ComposedMail = { ok: true; mail: MailContent } | { ok: false; fault: MergeFault };

/** Values of merge fields that come from an edition's frozen figures, so that mail and PDF never differ; of the metrics that are named. */
function contextOf(
  { order, answers }: FrozenForMail,
  people: MailPeople,
  named: readonly string[],
  format: Formatter,
): MergeContext {
  const whole = wholeScope(order.document, order);
  const book = metricBook(order.metrics);
  const context: Record<string, string | Otherwise | null> = {
    'client.name': order.clientName,
    'contact.firstName': people.firstName,
    ...dateFields(whole, format),
    'report.title': order.title,
    'edition.number': people.number,
    'agency.name': order.agencyName,
    'manager.name': people.manager?.name ?? order.agencyName,
  };
  const told = { answers, book, format };
  for (const key of named.filter((k) => book.has(k))) {
    const { figure, change } = figureFields(key, whole, told);
    context[`figure.${key}`] = figure;
    context[`change.${key}`] = change;
  }
  return context;
}

/** Whether mails are written in a face with serifs: as near to a kit's as may be. */
function isSerif({ typefaces }: Brand): boolean {
  const text = typefaces?.text;
  return text === undefined || (typeof text === 'string' && TYPEFACES.find((t) => t.key === text)!.serif);
}

/** CSS pixels between the margins of a mail. */
const INNER = MAIL_WIDTH - 2 * MAIL_PAD;

const cidOf = (file: string): string => `${file}@mail`;

/** As large as fits, in whole CSS pixels. */
function fitted(file: string, width: number, height: number, most: { width: number; height: number }): MailPicture {
  const scale = Math.min(1, most.width / width, most.height / height);
  return {
    cid: cidOf(file),
    file,
    width: Math.max(1, Math.round(width * scale)),
    height: Math.max(1, Math.round(height * scale)),
  };
}

function headOf({ order, mail }: FrozenForMail): MailContent['head'] {
  const { mailHead, logo } = order.brand;
  if (mailHead) {
    const wide = { width: MAIL_WIDTH, height: MAIL_WIDTH };
    const picture = fitted(mailHead.file, mailHead.width, mailHead.height, wide);
    return { picture: { ...picture, width: MAIL_WIDTH }, alt: order.agencyName, isWide: true, onMain: false };
  }
  const onMain = logo?.kind === 'image' && logo.pale;
  // A logo as mails of before had none stays away from them.
  const drawn = mail && (mail.logo ?? (logo?.kind === 'image' ? logo : null));
  if (!drawn) return null;
  const picture = fitted(drawn.file, drawn.width, drawn.height, MAIL_LOGO);
  return { picture, alt: order.clientName, isWide: false, onMain };
}

/** Which dates the figures are of, and what they are held against. */
function datesOf({ order }: FrozenForMail, format: Formatter): string {
  const { period, compared, yardstick } = wholeScope(order.document, order);
  const against = comparisonHead({ compared, yardstick, format });
  return [format.range(period), against].filter((t) => t !== '').join(' · ');
}

/** What has to be said of the odd days behind figures that a text names. */
function oddNotesOf({ order, answers }: FrozenForMail, named: readonly string[], format: Formatter): string[] {
  const book = metricBook(order.metrics);
  const whole = wholeScope(order.document, order);
  const told = named
    .filter((key) => book.has(key))
    .map((key) => ({
      metric: book.of(key),
      label: book.labelOf(key, format.words.metrics),
      odd: oddOf(answers, key, whole),
    }));
  return oddNotes(told, book, format).map((n) => n.text);
}

/** The same with each note said once, where it is said first. */
function saidOnce(sections: readonly MailSection[]): MailSection[] {
  const said = new Set<string>();
  return sections.map((section) => {
    if (!('notes' in section) || !section.notes) return section;
    const notes = section.notes.filter((n) => !said.has(n));
    for (const n of notes) said.add(n);
    return { ...section, notes };
  });
}

/** Characters that turn the direction of what follows them (UAX 9 §2): in names and notes they would turn what is not theirs. */
const TURNS = /[\u202a-\u202e\u2066-\u2069]/g;

/** All texts of a mail without characters that turn what stands beside them. */
function tame<T>(value: T): T {
  if (typeof value === 'string') return value.replace(TURNS, '') as T;
  if (Array.isArray(value)) return value.map(tame) as T;
  if (value === null || typeof value !== 'object') return value;
  return Object.fromEntries(Object.entries(value).map(([key, of]) => [key, tame(of)])) as T;
}

/** “Hello there” is for one whose name is not known; where a mail goes to many, or to nobody by name, “Hello” greets them. */
const THERE = /[ \u00a0]\{\{\s*contact\.firstName\s*\|\s*there\s*\}\}/g;

/** Writes the mail of an edition for one reader, or tells which field cannot be filled: a reader never sees braces or a gap. */
export function composeMail(
  frozen: FrozenForMail,
  texts: MailTexts,
  people: MailPeople,
  { isTest, postalAddress = '', unsubscribe = null }: MailFrame,
): ComposedMail {
  const { order } = frozen;
  const format = formatterOf(order.language, order.currency);
  const { words } = format;
  const { keys } = metricBook(order.metrics);
  const asked = [...textsOfMail(texts), texts.fileName ?? ''].flatMap(metricsNamed);
  const context = contextOf(frozen, people, [...new Set(asked)], format);
  const design = texts.mail ?? PLAIN_MAIL;
  let fault: MergeFault | null = null;
  const isNameless = people.firstName.trim() === '';
  const filled = (template: string, target: MergeTarget): string => {
    const result = fillMergeFields(isNameless ? template.replace(THERE, '') : template, target, keys, context);
    if (result.ok) return result.text;
    fault ??= result.fault;
    return '';
  };
  const subject = filled(texts.subject, 'header');
  const named = filled(texts.fileName ?? '', 'filename');

  const textSection = (template: string): MailSection => ({
    kind: 'text',
    text: filled(template, 'text'),
    notes: oddNotesOf(frozen, metricsNamed(template), format),
  });
  const sectionOf = (part: MailPart): MailSection[] => {
    if (isShown(part)) {
      const block = blockOfPart(order.document, part);
      const found = frozen.mail?.shown.find((s) => s.block === block?.id);
      if (!found) return [];
      if (found.kind === 'table') {
        const { more, ...shown } = found;
        return [{ ...shown, rest: more > 0 ? format.count(words.mail.more, more) : '' }];
      }
      if (found.kind !== 'chart') return [found];
      const { file, width, height, title, alt, about, notes } = found;
      const scale = INNER / width;
      const picture = { cid: cidOf(file), file, width: INNER, height: Math.round(height * scale) };
      return [{ kind: 'chart', title, alt, about, notes, picture }];
    }
    switch (part.kind) {
      case 'message':
        return [textSection(texts.message)];
      case 'text':
        return [textSection(part.text)];
      case 'note': {
        const text = (texts.note ?? '').trim();
        const from = fill(words.mail.noteFrom, { name: people.manager?.name ?? order.agencyName });
        return text === '' ? [] : [{ kind: 'note', text, from }];
      }
      case 'button':
        return [{ kind: 'button', label: filled(part.label, 'header'), link: part.link }];
      case 'signature': {
        const { manager } = people;
        const { closing } = words.mail;
        if (!manager) return [{ kind: 'signature', closing, name: order.agencyName, of: '', email: '' }];
        return [{ kind: 'signature', closing, name: manager.name, of: order.agencyName, email: manager.email }];
      }
    }
  };
  const parts = saidOnce(design.parts.flatMap(sectionOf));
  const first = parts.findIndex((s) => s.kind === 'figures' || s.kind === 'table' || s.kind === 'chart');
  const sections =
    first < 0
      ? parts
      : [...parts.slice(0, first), { kind: 'dates' as const, text: datesOf(frozen, format) }, ...parts.slice(first)];
  const sentence = parts.find((s) => s.kind === 'sentence');
  const preview = design.preview === '' ? (sentence?.text ?? '') : filled(design.preview, 'header');
  if (fault) return { ok: false, fault };
  const attached = fill(words.mail.attached, { title: order.title, period: format.range(order.period) });
  const main = readable(order.brand.main);
  return {
    ok: true,
    mail: tame({
      lang: order.language,
      direction: words.direction,
      subject: isTest ? fill(words.mail.test, { subject }) : subject,
      preview,
      style: { main, ground: tint(main, 0.08), isSheet: order.brand.mailLook === 'sheet', serif: isSerif(order.brand) },
      head: headOf(frozen),
      clientName: order.clientName,
      sections,
      foot: [attached, ...(postalAddress === '' ? [] : [`${order.agencyName}\n${postalAddress}`])],
      unsubscribe: unsubscribe === null ? null : { label: words.mail.noMore, link: unsubscribe },
      fileName: fileNameOf(named === '' ? [order.clientName, order.title, format.range(order.period)] : [named], 'pdf'),
      files: design.files,
    }),
  };
}
