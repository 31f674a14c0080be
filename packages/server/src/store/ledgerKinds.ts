import { z } from 'zod';

/** What names a person, or says what one person wrote: it can be erased, and the entry stays. */
const personal = <S extends z.ZodType>(schema: S): S => schema.meta({ personal: true });

const text = z.string();
const nothing = z.object({});
const ofClient = z.object({ client: text });
const ofFile = z.object({ file: text });
const named = z.object({ name: text });
/** Why a feed brought nothing, and when it is asked again. */
const tried = z.object({ reason: text, next: text.nullable() });
const dates = z.object({ from: text, to: text });
const because = z.object({ reason: text });
const byMail = z.object({ email: personal(text), reply: personal(text).optional() });
const moved = z.object({ clients: z.array(text).optional(), to: text.nullable() });
const who = z.object({ contact: text });
/** How an edit changed a schedule: each part with what it was and is. */
const changed = z.object({ changed: z.array(z.object({ part: text, before: z.unknown(), after: z.unknown() })) });
/** From where somebody came: an address of the network, shortened. */
const from = z.object({ address: personal(text) });
const ofSegment = z.object({ client: text, name: text });

/**
 * Every kind of entry of the ledger, with its details. An entry is of one of these kinds and has these details, or the compiler
 * says so; what is read later is read by them.
 */
export const LEDGER = {
  'agency.made': nothing,
  'agency.changed': nothing,
  'bounce-box.changed': nothing,
  'bounce-box.removed': nothing,
  'brand.changed': nothing,
  'calendar.made': nothing,
  'calendar.changed': nothing,
  'calendar.removed': nothing,
  'calendar.linked': nothing,
  'calendar.unlinked': nothing,
  'client.activated': nothing,
  'client.changed': z.object({ by: text.optional() }),
  'client.created': nothing,
  'client.deactivated': nothing,
  'client.duplicated': z.object({ from: text }),
  'clients.back': moved,
  'clients.handed-over': moved,
  'clock.set-back': z.object({ last: text }),
  'commentary.released': dates,
  'commentary.written': dates,
  'connection.made': nothing,
  'connection.renewed': nothing,
  'contact.added': who.partial(),
  'contact.bounced': byMail,
  'contact.changed': who.partial(),
  'contact.declined': z.object({ email: personal(text), how: text }),
  'contact.removed': who.partial(),
  'contacts.added': nothing,
  'days.counted': ofClient,
  'days.excluded': ofClient.extend({ from: text, to: text, metrics: z.array(text), reason: text }),
  'default-brand.changed': nothing,
  'delivery.accepted': byMail,
  'delivery.bounced': byMail,
  'delivery.deferred': byMail,
  'delivery.queued': byMail,
  'delivery.refused': byMail,
  'delivery.sending': byMail,
  'delivery.uncertain': byMail,
  'delivery.withdrawn': byMail,
  'dkim.made': nothing,
  'dkim.removed': nothing,
  'edition.collecting': because.partial(),
  'edition.held': because.partial(),
  'edition.note': nothing,
  'edition.part-sent': because.partial(),
  'edition.planned': because.partial(),
  'edition.readdressed': z.object({ readers: personal(z.array(text)) }),
  'edition.ready': because.partial(),
  'edition.replaced': because.partial(),
  'edition.resent': z.object({ readers: personal(z.array(text)) }),
  'edition.review': because.partial(),
  'edition.sending': because.partial(),
  'edition.sent': because.partial(),
  'edition.skipped': because.partial(),
  'factor.codes': from.partial(),
  'factor.removed': from.partial(),
  'factor.set': from.partial(),
  'feed.confirmed': z.object({ differences: text }),
  'feed.connected': z.object({ client: text, account: text, site: text, stopped: z.boolean() }).partial(),
  'feed.drop-key': nothing,
  'feed.past': z.object({ before: text, continues: text.nullable(), after: text }),
  'feed.reconnected': nothing,
  'feed.recovered': nothing,
  'feed.removed': z.object({ schedules: z.array(text) }),
  'feed.stopped': tried,
  'feed.token': nothing,
  'feed.troubled': tried,
  'feed.typed': z.object({ cells: z.array(z.object({ start: text, metric: text, value: z.number().nullable() })) }),
  'holidays.changed': nothing,
  'import.aside': ofFile,
  'import.begun': ofFile,
  'import.done': ofFile.extend({ good: z.int(), bad: z.int() }).extend(dates.partial().shape),
  'import.undone': ofFile,
  'limits.changed': nothing,
  'link.invite': nothing,
  'link.let-in': nothing,
  'link.reset': nothing,
  'list.added': who.partial(),
  'list.changed': who.partial(),
  'list.removed': who.partial(),
  'mail-rules.changed': nothing,
  'mail-server.changed': nothing,
  'mail-server.removed': nothing,
  'member.activated': nothing,
  'member.changed': z.object({ role: text, before: text, clients: z.int() }).partial(),
  'member.deactivated': moved,
  'member.invited': nothing,
  'metric.changed': z.object({ metric: text }),
  'note.removed': ofClient,
  'note.saved': ofClient,
  'owner.let-in': nothing,
  'paper.changed': nothing,
  'password.changed': from,
  'report.created': nothing,
  'report.followed': z.object({ template: text }),
  'report.kept': named,
  'report.released': nothing,
  'report.removed': z.object({ client: text, title: text }),
  'report.restored': z.object({ version: text }),
  'report.saved': nothing,
  'reset.asked': from,
  'schedule.changed': changed,
  'schedule.ended': nothing,
  'schedule.paused': z.object({ resumesOn: text.nullable() }).partial(),
  'schedule.resumed': nothing,
  'schedule.started': nothing,
  'schedule.stopped': because,
  'schedule.zones': nothing,
  'schedules.many': z.object({ what: text, count: z.int() }),
  'schedules.undone': z.object({ undone: z.int() }),
  'segment.removed': ofSegment,
  'segment.saved': ofSegment,
  'sending.odd-days': nothing,
  'sending.resumed': nothing,
  'sending.stopped': because,
  'service.changed': nothing,
  'service.removed': nothing,
  'session.ended': from,
  'sessions.ended': nothing,
  'shared-metric.changed': z.object({ metric: text }),
  'sign-in': nothing,
  'sign-in.refused': from,
  'sign-in-rules.changed': nothing,
  'tags.changed': nothing,
  'target.removed': ofClient,
  'target.saved': ofClient,
  'template.changed': z.object({ report: text }),
  'template.made': z.object({ report: text }),
  'template.named': nothing,
  'template.removed': named,
  'typeface.brought': named.extend({ weight: z.enum(['regular', 'bold']) }),
  'typeface.removed': named,
  'unread-mail.removed': nothing,
} as const satisfies Record<string, z.ZodObject>;

export type LedgerKind = keyof typeof LEDGER;
export type LedgerDetail<K extends LedgerKind> = K extends LedgerKind ? z.input<(typeof LEDGER)[K]> : never;

/** The names of those details of a kind that name persons: what is erased with a person, while the entry stays. */
export const personalDetails = (kind: LedgerKind): string[] =>
  Object.entries(LEDGER[kind].shape as Record<string, z.ZodType>).flatMap(([name, schema]) => {
    const inner = schema instanceof z.ZodOptional ? (schema.unwrap() as z.ZodType) : schema;
    return [schema, inner].some((s) => s.meta()?.personal === true) ? [name] : [];
  });
