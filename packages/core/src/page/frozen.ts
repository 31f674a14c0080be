import { z } from 'zod';
import { type Answers, NO_SETTINGS } from '../figures/index.ts';
import { parseStored, readAs, upgradeDocument } from '../report/index.ts';
import type { DrawOrder } from './drawOrder.ts';
import type { MailShown } from './mailPieces.ts';
import type { Scene, ScenePage } from './scene.ts';

/** A picture that was made for the mail: its file's SHA-256, and its size in CSS pixels. */
export interface MadePicture {
  file: string;
  width: number;
  height: number;
}

/** What a mail shows of its edition: words as the pages have them, a chart as a picture, and the logo where it is drawn. */
export interface FrozenMail {
  shown: (Exclude<MailShown, { kind: 'chart' }> | (Extract<MailShown, { kind: 'chart' }> & MadePicture))[];
  logo: (MadePicture & { page: ScenePage }) | null;
}

/** What an edition keeps for ever (ARCHITECTURE: frozen edition). Formatted strings are those of the scene. */
export interface Frozen {
  /** The instant that stands in the file; null in editions frozen without one, which carry that of their making. */
  created: string | null;
  order: DrawOrder;
  answers: Answers;
  coverage: { dataset: string; firstDay: string; covered: (readonly [number, number])[] }[];
  /** Hashes of the typefaces by name. */
  fonts: Record<string, string>;
  composeVersion: number;
  scene: Scene;
  /** What the mail shows of the report; left out in editions of before, whose mails showed nothing. */
  mail?: FrozenMail | undefined;
  /** Verdicts that odd days turn round, in sentences for the manager. */
  turned: string[];
}

/** What of it its mails are written from. */
export type FrozenForMail = Pick<Frozen, 'order' | 'answers' | 'mail'>;

const range = z.object({ from: z.string(), to: z.string() });

/**
 * What is read of a frozen edition: how it is made up. What the renderer itself wrote into answers, scene and brand is
 * taken as it is, byte for byte, since it is shown again as it was and never made anew.
 */
const frozenSchema = z.object({
  created: z.string().nullable().default(null),
  order: z.looseObject({
    clientId: z.string(),
    clientName: z.string(),
    agencyName: z.string(),
    manager: z.object({ name: z.string(), email: z.string() }).nullable().default(null),
    asOf: z.string().nullable().default(null),
    title: z.string(),
    document: z.unknown(),
    paper: z
      .object({ size: z.enum(['a4', 'letter']), orientation: z.enum(['portrait', 'landscape']) })
      .default({ size: 'a4', orientation: 'portrait' }),
    // The days that they leave out are taken as they are.
    period: z.looseObject(range.shape),
    compared: z.looseObject(range.shape).nullable(),
    metrics: z.looseObject({ changed: z.record(z.string(), z.unknown()), own: z.array(z.unknown()) }).default({
      ...NO_SETTINGS,
    }),
    targets: z.array(z.unknown()).default([]),
    holidays: z.array(z.string()).default([]),
    dayNotes: z.array(range.extend({ text: z.string() })).default([]),
    commentary: z.record(z.string(), z.string()).default({}),
    brand: z.looseObject({ main: z.string(), second: z.string() }),
    mailMetrics: z.array(z.string()),
    language: z.string(),
    currency: z.string(),
  }),
  answers: z.record(z.string(), z.looseObject({ op: z.string() })),
  coverage: z.array(z.object({ dataset: z.string(), firstDay: z.string(), covered: z.array(z.array(z.number())) })),
  fonts: z.record(z.string(), z.string()),
  composeVersion: z.int(),
  scene: z.looseObject({
    version: z.literal(1),
    lang: z.string(),
    title: z.string(),
    author: z.string(),
    pages: z.array(z.looseObject({ width: z.number(), height: z.number(), ops: z.array(z.unknown()) })).min(1),
  }),
  turned: z.array(z.string()).default([]),
});

/**
 * A frozen edition of any version as today's code has it: what editions of before did not have is empty.
 * @throws StoredError for what no version has written
 */
export function readFrozen(stored: string, what = 'a frozen edition'): Frozen {
  const value = parseStored(stored, what);
  const kept = readAs(frozenSchema, value, what);
  const document = upgradeDocument(kept.order.document, what);
  const { scene, answers, mail } = value as Pick<Frozen, 'scene' | 'answers' | 'mail'>;
  return { ...kept, order: { ...kept.order, document }, scene, answers, ...(mail && { mail }) } as unknown as Frozen;
}
