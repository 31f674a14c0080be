import { addDays, civilDateAt } from '@chronicon/core/calendar';
import type { Feed } from '@chronicon/core/contract';
import type { Cause } from '../clockwork/causes.ts';
import type { StoredClient } from '../store/clients.ts';
import { feedsOf } from '../store/feeds.ts';
import { importsOf } from '../store/imports.ts';
import type { Api } from './context.ts';
import { describeFeeds } from './feeds.ts';

/** Days by which a feed in good order may lag before somebody should look: services finish a day late now and then. */
const LATE_DAYS = 3;

/** What to do about a feed, in the words of its button. */
const ACTS: Record<Feed['action'], string> = {
  fetch: 'See feed',
  authorise: 'Authorise',
  token: 'Give token',
  confirm: 'Confirm',
  reconnect: 'Reconnect',
  import: 'See files',
  type: 'Fill in',
};

/** What a client's feeds need a person for, with the one thing to do about each; one line for each refused connection. */
export async function feedNeeds(api: Api, client: StoredClient): Promise<Cause[]> {
  const feeds = await describeFeeds(api, client, await feedsOf(api.store, client.id));
  const today = civilDateAt(api.clock.now(), client.zone);
  const to = `/clients/${client.id}/feeds`;
  const needs: Cause[] = [];
  const line = { deadline: null, editions: [], missed: false, clients: [client.id] };
  for (const feed of feeds) {
    const title = `${client.name}: ${feed.name}`;
    // Where nothing can be confirmed, there is something to look at.
    const label = feed.action === 'confirm' && !feed.canConfirm ? 'See what differs' : ACTS[feed.action];
    const action = { label, to: `${to}#${feed.id}` };
    if (feed.trouble !== null) {
      const key = ['authorise', 'token'].includes(feed.action) && feed.connection ? feed.connection : feed.id;
      needs.push({ ...line, key, tone: 'wrong', title, reason: feed.trouble, action });
      continue;
    }
    const through = feed.coveredThrough;
    const late = feed.source === 'service' && through !== null && through < addDays(today, -LATE_DAYS);
    if (!late || feed.state !== 'fresh') continue;
    const reason = `The service has brought nothing after ${through}. Editions wait for the days that lack.`;
    needs.push({ ...line, key: feed.id, tone: 'attention', title: `${title} is behind`, reason, action });
  }
  for (const i of await importsOf(api.store, client.id)) {
    // Files that somebody dropped are looked at there and then.
    if (i.state !== 'asking' || i.source === 'dropped' || feeds.some((f) => f.id === i.feedId && f.trouble)) continue;
    needs.push({
      ...line,
      key: i.id,
      tone: 'attention',
      title: `${client.name}: ${i.fileName} waits`,
      reason: 'It came by itself and is not like the files before it.',
      action: { label: 'Look', to: `/clients/${client.id}/imports/${i.id}` },
    });
  }
  return needs;
}
