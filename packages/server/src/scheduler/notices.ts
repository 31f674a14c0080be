import { addMinutes } from '@chronicon/core/calendar';
import { sendLetter } from '../mail/letters.ts';
import { clientById, clientsByIds } from '../store/clients.ts';
import { type EditionRow, editionsLate } from '../store/editions.ts';
import { feedsOf, type StoredFeed } from '../store/feeds.ts';
import { agencyOf, type Member, memberById, owners, settingsOfMember } from '../store/members.ts';
import { mayTell, toldNow } from '../store/notices.ts';
import { sendingStops } from '../store/sendingStops.ts';
import { type Cause, causeOfStop, causesOfEditions, type Held } from './causes.ts';
import type { Tools } from './tools.ts';

/** At most one mail an hour for each cause; one that lasts is told again once a day, in minutes. */
const LEAST_APART = 60;
const AGAIN_AFTER = 24 * 60;
/** Sending that has not begun so long after its time is late, in minutes. */
const PATIENCE = 10;

/** The causes that are told outside the Desk: what is held or late, and what stops all mails. */
async function causesNow(tools: Tools): Promise<Cause[]> {
  const { store, clock } = tools;
  const late = await editionsLate(store, addMinutes(clock.now(), -PATIENCE), addMinutes(clock.now(), -AGAIN_AFTER * 7));
  const clients = await clientsByIds(store, [...new Set(late.map((e) => e.client_id))]);
  const feeds = new Map<string, StoredFeed[]>();
  for (const { client_id: id } of late) {
    if (!feeds.has(id)) feeds.set(id, await feedsOf(store, id));
  }
  const held: Held[] = late.map((edition: EditionRow) => ({ edition, client: clients.get(edition.client_id)! }));
  const stops = (await sendingStops(store)).filter((s) => s.cause !== 'person');
  const waiting = held.filter((h) => h.edition.state === 'sending' || h.edition.state === 'ready');
  const others = stops.length > 0 ? held.filter((h) => !waiting.includes(h)) : held;
  return [...stops.map((s) => causeOfStop(s, waiting)), ...causesOfEditions(others, feeds)];
}

/** The managers of the clients concerned, and the owners, but those who do not want to be told. */
async function toWhom(tools: Tools, cause: Cause): Promise<Member[]> {
  const members = new Map((await owners(tools.store)).map((m) => [m.id, m]));
  for (const id of cause.clients) {
    const client = await clientById(tools.store, id);
    const manager = client && (await memberById(tools.store, client.managerId));
    if (manager?.state === 'active') members.set(manager.id, manager);
  }
  const told: Member[] = [];
  for (const member of members.values()) {
    if ((await settingsOfMember(tools.store, member.id)).notices) told.push(member);
  }
  return told;
}

/**
 * Tells managers and owners of what is held, late or stopped. Where the mail server is the cause, it is tried all the same.
 * A cause counts as told whatever became of its mails, unless the server took none from anybody: nobody is flooded.
 */
export async function tellByMail(tools: Tools, signal?: AbortSignal): Promise<void> {
  const { store, clock, config } = tools;
  if (!config.notices || !(await agencyOf(store))) return;
  for (const cause of await causesNow(tools)) {
    const now = clock.now();
    if (!(await mayTell(store, cause.key, now, LEAST_APART, AGAIN_AFTER))) continue;
    const lines = [cause.reason, ...cause.editions.slice(0, 30).map((e) => `- ${e.label}`)];
    const link = config.url ? new URL(cause.action.to, config.url).href : undefined;
    for (const member of await toWhom(tools, cause)) {
      const handed = await sendLetter(
        tools,
        { to: member, subject: cause.title, text: lines.join('\n'), link },
        signal,
      );
      // The mail server itself is what is wrong: the Desk says so, nobody else can be told.
      if (handed.kind === 'server' || handed.kind === 'aborted') return;
      await toldNow(store, cause.key, now);
    }
  }
}
