import { addDays, type CivilDate, civilDateAt, lengthOf } from '@chronicon/core/calendar';
import type { Feed } from '@chronicon/core/contract';
import { coveredThroughOfLate } from '../facts/factStore.ts';
import { isService } from '../feeds/registry.ts';
import { englishFor } from '../figures/english.ts';
import type { Cause } from '../scheduler/causes.ts';
import type { ClientHead } from '../store/clients.ts';
import { connectionsByIds } from '../store/connections.ts';
import { freshFeeds, type StoredFeed, troubledFeeds } from '../store/feeds.ts';
import { importsWaiting, openDaysSeen } from '../store/imports.ts';
import type { Visibility } from '../store/visibility.ts';
import { actionFor, mayBeConfirmed } from './feeds.ts';
import type { Reading } from './reads/reading.ts';

/** Days by which a feed in good order may lag before somebody should look: services finish a day late now and then. */
const LATE_DAYS = 3;

/** What to do about a feed, in the words of its button. */
const ACTS: Record<Feed['action'], string> = {
  fetch: 'See feed',
  authorise: 'Authorise',
  token: 'Enter token',
  confirm: 'Confirm',
  reconnect: 'Reconnect',
  import: 'See files',
  type: 'Fill in',
};

type NamedFeed = Pick<StoredFeed, 'id' | 'client_id' | 'name'>;

/** Today for each zone: many clients share one. */
function todayIn(now: string): (zone: string) => CivilDate {
  const known = new Map<string, CivilDate>();
  return (zone) => {
    const today = known.get(zone) ?? civilDateAt(now, zone);
    known.set(zone, today);
    return today;
  };
}

/** What visible feeds need a person for, with the one thing to do about each; one line for each refused connection. */
export async function feedNeeds(
  api: Reading,
  visibility: Visibility,
  clients: ReadonlyMap<string, ClientHead>,
  now: string,
): Promise<Cause[]> {
  const troubled = await troubledFeeds(api.store, visibility);
  const connections = await connectionsByIds(api.store, [...new Set(troubled.flatMap((f) => f.connection_id ?? []))]);
  // Wherever a client is, its day is this one or a neighbour of it.
  const through = await coveredThroughOfLate(api.facts, addDays(now.slice(0, 10), 1 - LATE_DAYS));
  const today = todayIn(now);
  const needs: Cause[] = [];
  const lineOf = (client: ClientHead) => ({ deadline: null, editions: [], missed: false, clients: [client.id] });
  const titleOf = (client: ClientHead, feed: NamedFeed) => `${client.name}: ${feed.name}`;
  const toFeed = (feed: NamedFeed) => `/clients/${feed.client_id}/feeds#${feed.id}`;
  for (const feed of troubled) {
    const client = clients.get(feed.client_id)!;
    const connection = (feed.connection_id && connections.get(feed.connection_id)) || null;
    const act = actionFor(feed, connection);
    // Where nothing can be confirmed, there is something to look at.
    const label = act === 'confirm' && !mayBeConfirmed(feed, client) ? 'View differences' : ACTS[act];
    const key = ['authorise', 'token'].includes(act) && feed.connection_id ? feed.connection_id : feed.id;
    const action = { label, to: toFeed(feed) };
    needs.push({ ...lineOf(client), key, tone: 'wrong', title: titleOf(client, feed), reason: feed.trouble!, action });
  }
  for (const feed of await freshFeeds(api.store, visibility)) {
    const client = clients.get(feed.client_id)!;
    const last = through.get(feed.id);
    if (!isService(feed.kind) || last === undefined || last >= addDays(today(client.zone), -LATE_DAYS)) continue;
    const reason = `No data since ${last}. Editions are waiting for the missing days.`;
    const title = `${titleOf(client, feed)} is behind`;
    const action = { label: ACTS.fetch, to: toFeed(feed) };
    needs.push({ ...lineOf(client), key: feed.id, tone: 'attention', title, reason, action });
  }
  for (const { importId, clientId, fileName, days } of await openDaysSeen(api.store, visibility)) {
    const client = clients.get(clientId);
    if (!client) continue;
    const english = englishFor(client);
    const count = days.reduce((n, d) => n + lengthOf(d), 0);
    const [first, ...more] = days;
    const which = `${english.dates(first!)}${more.length > 0 ? ` and ${more.length} more` : ''}`;
    needs.push({
      ...lineOf(client),
      key: importId,
      tone: 'attention',
      title: `${client.name}: ${fileName} has unreadable rows for ${count === 1 ? 'a day' : `${count} days`}`,
      reason: `Unreadable rows: ${which}. Totals that include these days are marked incomplete.`,
      action: { label: 'Look', to: `/clients/${clientId}/imports/${importId}` },
    });
  }
  const inTrouble = new Set(troubled.map((f) => f.id));
  // Files that somebody dropped are looked at there and then.
  for (const i of await importsWaiting(api.store, visibility)) {
    const client = clients.get(i.clientId)!;
    if (i.feedId !== null && inTrouble.has(i.feedId)) continue;
    needs.push({
      ...lineOf(client),
      key: i.id,
      tone: 'attention',
      title: `${client.name}: ${i.fileName} needs review`,
      reason: 'This uploaded file doesn’t match earlier ones.',
      action: { label: 'Look', to: `/clients/${client.id}/imports/${i.id}` },
    });
  }
  return needs;
}
