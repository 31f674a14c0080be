import { addDays, wallClock } from '@chronicon/core/calendar';
import type { Need } from '@chronicon/core/contract';
import { formatterOf } from '@chronicon/core/words';
import type { ClientHead } from '../store/clients.ts';
import { type EditionRow, ordersOf } from '../store/editions.ts';
import type { Fault } from '../store/faults.ts';
import type { StoredFeed } from '../store/feeds.ts';
import type { SendingStop } from '../store/sendingStops.ts';

/** What holds editions up, one entry for each cause: what the Desk lists and what is told by mail. */
export interface Cause extends Need {
  /** Whose editions or feeds it is about. */
  clients: string[];
  /** True where nothing is sent to anybody. */
  stopsAll?: true;
}

export const TONES = { wrong: 0, attention: 1, calm: 2 } as const;

/** What stops all mails first, then what endangers the earliest edition; what endangers none comes last, by how bad it is. */
export function byUrgency(a: Cause, b: Cause): number {
  if (a.stopsAll !== b.stopsAll) return a.stopsAll ? -1 : 1;
  if (a.deadline !== b.deadline) {
    if (a.deadline === null) return 1;
    if (b.deadline === null) return -1;
    return Date.parse(a.deadline) - Date.parse(b.deadline);
  }
  return TONES[a.tone] - TONES[b.tone] || (a.key < b.key ? -1 : 1);
}

export const labelOf = (e: EditionRow, client: ClientHead): string => {
  const english = formatterOf('en-GB', client.currency);
  const dates = e.period_from && e.period_to ? english.shortRange({ from: e.period_from, to: e.period_to }) : '';
  const { group } = ordersOf(e);
  return [client.name, group, dates].filter((part) => part).join(', ');
};

const entryOf = (e: EditionRow, client: ClientHead) => ({ id: e.id, label: labelOf(e, client), at: e.due_at });

/** An edition with its client. */
export interface Held {
  edition: EditionRow;
  client: ClientHead;
}

/** Several editions under one cause: the earliest of them is the deadline. */
function grouped(
  key: string,
  held: readonly Held[],
  say: Pick<Cause, 'tone' | 'title' | 'reason' | 'action'> & { missed?: boolean },
): Cause {
  const editions = held.map(({ edition, client }) => entryOf(edition, client)).sort((a, b) => (a.at < b.at ? -1 : 1));
  return {
    missed: false,
    ...say,
    key,
    deadline: editions[0]?.at ?? null,
    editions,
    clients: [...new Set(held.map((h) => h.client.id))],
  };
}

/** A mail server’s own words need not end in a full stop. */
const asSentence = (text: string): string => (/[.!?]$/.test(text) ? text : `${text}.`);

/** What stops all mails: one line, with everything that waits for it. */
export function causeOfStop(stop: SendingStop | Fault, waiting: readonly Held[]): Cause {
  const titles = {
    person: 'Sending is turned off',
    'mail-server': 'Emails aren’t being sent',
    copy: 'This is a copy of another server: sending is off',
    disk: 'Can’t save to disk',
    key: 'Encryption key missing',
    database: 'A database is damaged',
    busy: 'The database is in use by another server',
  };
  const cause = grouped(`stop-${stop.cause}`, waiting, {
    tone: 'wrong',
    title: titles[stop.cause],
    reason: [stop.reason, stop.mend]
      .filter((s) => s !== '')
      .map(asSentence)
      .join(' '),
    action: { label: 'View sending', to: '/sending' },
  });
  return { ...cause, stopsAll: true };
}

/** The feed that an edition which lacks data most likely waits for: a troubled one of its client, by its connection. */
function feedBehind(feeds: readonly StoredFeed[]): StoredFeed | null {
  return feeds.find((f) => f.trouble !== null) ?? null;
}

const seeEdition = (id: string) => `/editions/${id}`;

/** What a single edition needs of a person; null when it needs nothing. */
function causeOfEdition(h: Held): Cause | null {
  const { edition: e, client } = h;
  const what = labelOf(e, client);
  const reason = e.reason ?? '';
  const own = (tone: Cause['tone'], title: string, label: string, to = `/archive?edition=${e.id}`) =>
    grouped(e.id, [h], { tone, title, reason, action: { label, to } });
  switch (e.state) {
    case 'held':
      if (e.code === 'can-go') return own('attention', `${what}: ready to send`, 'Review and send', seeEdition(e.id));
      if (e.code === 'undrawable')
        return own('attention', `${what}: some characters can’t be displayed`, 'Review and send', seeEdition(e.id));
      if (e.code === 'odd-day')
        return own('attention', `${what}: an unusual day reverses a trend`, 'Review and send', seeEdition(e.id));
      if (e.code === 'late' || e.code === 'time-passed' || e.code === 'changed') {
        return own('attention', `${what}: needs your review`, 'Review and send', seeEdition(e.id));
      }
      if (e.code === 'never-released')
        return own('wrong', `${what}: on hold`, 'Open the report', `/reports/${e.report_id}`);
      if (e.code === 'guard')
        return own('wrong', `${what}: on hold`, 'View contacts', `/clients/${client.id}/contacts`);
      if (e.code === 'paused') return null;
      return own('wrong', `${what}: on hold`, 'See why');
    case 'review':
      if (e.kind === 'scheduled') {
        const { date, time } = wallClock(e.next_at ?? e.due_at, client.zone);
        const on = `${formatterOf('en-GB', client.currency).date(date)}, ${time}`;
        const text = e.next_at
          ? `Sends automatically at ${on} unless someone holds it.`
          : `Due ${on}. Sends once approved.`;
        return grouped(e.id, [h], {
          tone: 'attention',
          title: `${what}: awaiting approval`,
          reason: text,
          action: { label: 'Review and approve', to: seeEdition(e.id) },
        });
      }
      return own('attention', `${what}: ready to send`, 'Review and send', seeEdition(e.id));
    case 'part-sent':
      return own('wrong', `${what}: some deliveries failed`, 'See who');
    case 'collecting':
      return e.reason ? own('attention', `${what}: waiting for data`, 'View missing data') : null;
    case 'sending':
      return e.reason ? own('attention', `${what}: not delivered yet`, 'View recipients') : null;
    default:
      return null;
  }
}

/**
 * The causes behind a client's editions: those that lack data by the feed they wait for, runs that were missed together,
 * everything else by itself.
 */
export function causesOfEditions(held: readonly Held[], feedsOf: ReadonlyMap<string, readonly StoredFeed[]>): Cause[] {
  const causes: Cause[] = [];
  const byFeed = new Map<string, { feed: StoredFeed; held: Held[] }>();
  const missed = held.filter(({ edition: e }) => e.state === 'skipped' && e.code === 'missed');
  for (const h of held) {
    const { edition: e } = h;
    if (e.state === 'skipped') continue;
    const lacks = (e.state === 'held' && e.code === 'late-data') || (e.state === 'collecting' && e.reason !== null);
    const feed = lacks ? feedBehind(feedsOf.get(h.client.id) ?? []) : null;
    if (feed) {
      // One refused connection may feed many clients: it is one cause.
      const key = feed.fault === 'refused' && feed.connection_id ? feed.connection_id : feed.id;
      const group = byFeed.get(key) ?? { feed, held: [] };
      group.held.push(h);
      byFeed.set(key, group);
      continue;
    }
    const cause = causeOfEdition(h);
    if (cause) causes.push(cause);
  }
  for (const [key, { feed, held: waiting }] of byFeed) {
    const client = waiting.find((h) => h.client.id === feed.client_id)!.client;
    causes.push(
      grouped(key, waiting, {
        tone: waiting.some((h) => h.edition.state === 'held') ? 'wrong' : 'attention',
        title: `${client.name}: ${feed.name}`,
        reason: feed.trouble ?? '',
        action: { label: 'View feed', to: `/clients/${client.id}/feeds#${feed.id}` },
      }),
    );
  }
  for (const { edition: e, client } of held.filter(
    (h) => h.edition.state === 'skipped' && h.edition.code === 'repeat',
  )) {
    causes.push(
      grouped(e.id, [{ edition: e, client }], {
        tone: 'attention',
        title: `${labelOf(e, client)}: starts as skipped`,
        reason: e.reason ?? '',
        action: { label: 'Send or skip', to: `/archive?edition=${e.id}` },
      }),
    );
  }
  if (missed.length > 0) {
    causes.push(
      grouped('missed', missed, {
        tone: 'calm',
        title: missed.length === 1 ? '1 missed run' : `${missed.length} missed runs`,
        reason: 'The server was down when these were due. Create them now or dismiss them.',
        action: { label: 'See them', to: '/archive?state=skipped' },
        missed: true,
      }),
    );
  }
  return causes;
}

/** A schedule whose end is near, or that leaves its client without a plan. */
export function causeOfPlan(
  client: ClientHead,
  say: Pick<Cause, 'tone' | 'title' | 'reason' | 'action'> & { key: string },
): Cause {
  return { missed: false, deadline: null, editions: [], clients: [client.id], ...say };
}

/** The day two weeks from an instant. */
export const soonAfter = (now: string): string => addDays(now.slice(0, 10), 14);
