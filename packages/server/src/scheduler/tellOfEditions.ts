import { addMinutes, wallClock } from '@chronicon/core/calendar';
import { formatterOf } from '@chronicon/core/words';
import { sendLetter } from '../mail/letters.ts';
import { clientsByIds } from '../store/clients.ts';
import type { EditionRow } from '../store/editions.ts';
import { activeMembers, agencyOf, type Member } from '../store/members.ts';
import { editionsToTell, markTold, type Telling, toldOf } from '../store/told.ts';
import { labelOf } from './causes.ts';
import type { Tools } from './tools.ts';

/** An edition is news for so long after it was due, in minutes. */
const NEWS = 2 * 24 * 60;
/** Editions that are read at once. */
const AT_ONCE = 500;

/** What there is to tell of an edition now: of what, and to which members; null stands for the client's manager. */
function newsOf({ edition: e, own }: Telling): { of: string; members: (string | null)[] }[] {
  const toThose = (of: 'made' | 'sent' | 'held') => ({
    of,
    members: own.notified.filter((n) => n.of.includes(of)).map((n) => n.member),
  });
  const asked =
    own.signOff.rule !== 'none' && e.state === 'review' ? [{ of: 'asked', members: [own.signOff.asks] }] : [];
  if (e.state === 'held') return [toThose('held')];
  if (e.state === 'sent' || e.state === 'part-sent') return [toThose('made'), toThose('sent')];
  return [...asked, toThose('made')];
}

const TITLES: Record<string, string> = {
  asked: 'please approve',
  made: 'edition created',
  sent: 'sent',
  held: 'on hold',
};

/**
 * Tells members by mail of the editions that a schedule has them told of, and asks whoever is to sign one off. Each is
 * told once; what the mail server took from nobody is told again.
 */
export async function tellOfEditions(tools: Tools, signal?: AbortSignal): Promise<void> {
  const { store, clock, config } = tools;
  if (!config.notices || !(await agencyOf(store))) return;
  const now = clock.now();
  const members = new Map((await activeMembers(store)).map((m) => [m.id, m]));
  let last: EditionRow | null = null;
  do {
    const found: Telling[] = await editionsToTell(store, addMinutes(now, -NEWS), last, AT_ONCE);
    if (!(await tell(tools, found, members, signal))) return;
    last = found.length === AT_ONCE ? found.at(-1)!.edition : null;
  } while (last !== null);
}

/** Tells of these editions what was not told yet. @returns false where the mail server takes nothing now */
async function tell(
  tools: Tools,
  found: readonly Telling[],
  members: ReadonlyMap<string, Member>,
  signal?: AbortSignal,
): Promise<boolean> {
  const { store, clock, config } = tools;
  const now = clock.now();
  const told = await toldOf(
    store,
    found.map((t) => t.edition.id),
  );
  const clients = await clientsByIds(store, [...new Set(found.map((t) => t.edition.client_id))]);
  for (const telling of found) {
    const { edition: e } = telling;
    const client = clients.get(e.client_id)!;
    const what = `${e.title}: ${labelOf(e, client)}`;
    const { date, time } = wallClock(e.due_at, client.zone);
    const due = `Due ${formatterOf('en-GB', client.currency).date(date)}, ${time}.`;
    const link = config.url ? new URL(`/editions/${e.id}`, config.url).href : undefined;
    for (const news of newsOf(telling)) {
      for (const id of new Set(news.members.map((m) => m ?? client.managerId))) {
        const member = members.get(id);
        if (!member || told.has(`${e.id} ${id} ${news.of}`)) continue;
        const letter = { to: member, subject: `${what} – ${TITLES[news.of]}`, text: e.reason ?? due, link };
        const handed = await sendLetter(tools, letter, signal);
        if (handed.kind === 'server' || handed.kind === 'aborted') return false;
        await markTold(store, { edition: e.id, member: id, of: news.of, at: now });
      }
    }
  }
  return true;
}
