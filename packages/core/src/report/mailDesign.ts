import { z } from 'zod';
import { MAIL_SHOWS, type MailShow } from './blocks/mailPiece.ts';
import type { Block } from './blocks/registry.ts';
import { blockKind } from './blocks/registry.ts';
import { type ReportDocument, standing } from './document.ts';

/** Parts of a mail at most, and files that go with it beside the report. */
export const MOST_MAIL_PARTS = 12;
export const MOST_MAIL_FILES = 5;
/** Bytes of all of them together: mail servers take so much beside the report. */
export const MOST_MAIL_FILE_BYTES = 5 * 1024 * 1024;

const shown = <K extends MailShow>(kind: K) =>
  z.strictObject({
    kind: z.literal(kind),
    /** The block by its id; left out: the first of the report that can be shown so. */
    block: z.string().max(60).optional(),
  });

/** A part of a mail, in the order in which they are read. */
export const mailPart = z.discriminatedUnion('kind', [
  /** The message that every mail has. */
  z.strictObject({ kind: z.literal('message') }),
  /** More words, with merge fields. */
  z.strictObject({
    kind: z.literal('text'),
    text: z.string().trim().min(1, 'Enter text, or remove this part.').max(4000, 'Maximum 4,000 characters.'),
  }),
  shown('sentence'),
  shown('figures'),
  shown('table'),
  shown('chart'),
  /** What the manager writes for one edition; without it the part is left out. */
  z.strictObject({ kind: z.literal('note') }),
  z.strictObject({
    kind: z.literal('button'),
    label: z.string().trim().min(1, 'Enter the button label.').max(60, 'Maximum 60 characters.'),
    link: z
      .string()
      .trim()
      .max(1000, 'Maximum 1,000 characters.')
      .regex(/^https?:\/\/[^\s/?#]+\.[^\s]+$/, 'Enter a full address, e.g. https://www.example.com/recording.'),
  }),
  /** Who stands behind it: the manager, the agency, and how to reach them. */
  z.strictObject({ kind: z.literal('signature') }),
]);
export type MailPart = z.infer<typeof mailPart>;

export const mailFile = z.strictObject({
  /** SHA-256 of the file in the data folder. */
  file: z.string().regex(/^[0-9a-f]{64}$/),
  name: z.string().min(1).max(120),
  type: z.string().max(100),
  size: z.int().nonnegative(),
});
export type MailFile = z.infer<typeof mailFile>;

/** How a mail is made up around its message. */
export const mailDesign = z
  .strictObject({
    /** What programs show beside the subject, with merge fields; empty: its first words. */
    preview: z.string().trim().max(200, 'Maximum 200 characters.').default(''),
    parts: z.array(mailPart).max(MOST_MAIL_PARTS, `An email has at most ${MOST_MAIL_PARTS} parts.`),
    /** Files that go with every mail. */
    files: z.array(mailFile).max(MOST_MAIL_FILES, `An email has at most ${MOST_MAIL_FILES} attachments.`).default([]),
  })
  .refine(({ parts }) => parts.filter((p) => p.kind === 'message').length === 1, {
    message: 'An email has one message.',
    path: ['parts'],
  })
  .refine(({ parts }) => parts.filter((p) => p.kind === 'chart').length <= 1, {
    message: 'An email has one chart.',
    path: ['parts'],
  })
  .refine(({ files }) => files.reduce((sum, f) => sum + f.size, 0) <= MOST_MAIL_FILE_BYTES, {
    message: 'The files are larger than 5 MB together. Use smaller ones, or link to them.',
    path: ['files'],
  });
export type MailDesign = z.infer<typeof mailDesign>;

/** A mail of its message alone, as all were before they had parts. */
export const PLAIN_MAIL: MailDesign = { preview: '', parts: [{ kind: 'message' }], files: [] };

/** Whether a mail is its message alone, and brings nothing beside the report. */
export const isPlainMail = ({ preview, parts, files }: MailDesign): boolean =>
  preview === '' && files.length === 0 && parts.every((p) => p.kind === 'message');

/** What a new schedule's mail begins with: the answer, its figures, and what stands behind them. */
export const FRESH_MAIL: MailDesign = {
  preview: '',
  parts: [
    { kind: 'message' },
    { kind: 'sentence' },
    { kind: 'figures' },
    { kind: 'chart' },
    { kind: 'table' },
    { kind: 'note' },
    { kind: 'signature' },
  ],
  files: [],
};

/** Parts that show something of the report. */
export type ShownPart = Extract<MailPart, { kind: MailShow }>;
export const isShown = (part: MailPart): part is ShownPart => (MAIL_SHOWS as readonly string[]).includes(part.kind);

const blocksIn = (document: ReportDocument): Block[] =>
  standing(document).pages.flatMap((p) => p.rows.flatMap((r) => r.blocks));

/** The blocks of a report that a mail can show as something, in reading order. */
export const blocksShownAs = (document: ReportDocument, as: MailShow): Block[] =>
  blocksIn(document).filter((b) => blockKind(b).mail?.as === as);

/**
 * The block that a part of a mail shows: the one that it names, else the first that fits; undefined where the report has
 * none, and null where the one that it names is not among its pages.
 */
export function blockOfPart(document: ReportDocument, part: ShownPart): Block | null | undefined {
  const fit = blocksShownAs(document, part.kind);
  return part.block === undefined ? fit[0] : (fit.find((b) => b.id === part.block) ?? null);
}

/** What of a mail's design names something that a report does not have, in words for whoever made it. */
export const goneFromMail = (document: ReportDocument, { parts }: MailDesign): ShownPart[] =>
  parts.filter((p): p is ShownPart => isShown(p) && blockOfPart(document, p) === null);

/** The blocks that the parts of a mail show, by their ids, each once. */
export const blocksOfMail = (document: ReportDocument, { parts }: MailDesign): string[] => [
  ...new Set(parts.filter(isShown).flatMap((p) => blockOfPart(document, p)?.id ?? [])),
];

/** All that a person wrote of a mail with merge fields, whatever part it stands in. */
export const textsOfMail = (of: { subject: string; message: string; mail?: MailDesign | undefined }): string[] => [
  of.subject,
  of.message,
  ...(of.mail ? [of.mail.preview] : []),
  ...(of.mail?.parts ?? []).flatMap((p) => (p.kind === 'text' ? [p.text] : p.kind === 'button' ? [p.label] : [])),
];
