import { randomBytes } from 'node:crypto';
import { hostname } from 'node:os';
import { addMinutes } from '@chronicon/core/calendar';
import {
  type EditionRow,
  editionById,
  editionsDue,
  leaseOwners,
  moveEdition,
  postpone,
  releaseLease,
  releaseLeasesOf,
  takeLease,
} from '../store/editions.ts';
import { feedsDue } from '../store/feeds.ts';
import { send, writeMessages } from './dispatch.ts';
import { gather } from './gather.ts';
import { isTooLate, leaveOut, planAll } from './plan.ts';
import type { Tools } from './tools.ts';

const POLL_MS = 500;
/** Looks between looks into the folders for files. */
const INBOX_EVERY = 6;
const LEASE_MS = 60_000;
const AT_ONCE = 4;
/** Feeds that are asked side by side, whatever their services; each kind has a limit of its own. */
const FEEDS_AT_ONCE = 12;
/** Steps one edition may take in one go: planned, gathering, cleared, sending, sent. */
const STEPS = 6;

export interface Clockwork {
  start(): void;
  /** Looks now instead of at the next beat. */
  nudge(): void;
  /** Resolves when nothing is due any more at the present time. */
  settle(): Promise<void>;
  stop(): Promise<void>;
}

/** True when a process of this machine, by the name it gave its leases, runs no more. */
function isDead(owner: string, self: string): boolean {
  const [host, pid] = owner.split('|');
  if (owner === self || host !== hostname()) return false;
  if (Number(pid) === process.pid) return true;
  try {
    process.kill(Number(pid), 0);
    return false;
  } catch (error) {
    return (error as NodeJS.ErrnoException).code === 'ESRCH';
  }
}

/** Finds what is due and moves it along: runs to editions, editions to mails, feeds to facts. */
export function createClockwork(tools: Tools): Clockwork {
  const { store, clock, log } = tools;
  const self = [hostname(), process.pid, randomBytes(6).toString('hex')].join('|');
  const syncing = new Map<string, Promise<void>>();
  const moving = new Map<string, Promise<void>>();
  let timer: NodeJS.Timeout | null = null;
  let beating: Promise<boolean> | null = null;
  let stopped = false;
  let beats = 0;

  const lease = () => ({
    owner: self,
    now: new Date(clock.machine()).toISOString(),
    until: new Date(clock.machine() + LEASE_MS).toISOString(),
  });

  async function step(e: EditionRow): Promise<void> {
    if (e.state !== 'sending' && isTooLate(e, clock.now())) {
      await leaveOut(tools, e);
      return;
    }
    switch (e.state) {
      case 'planned':
        tools.crash('gather.before-move');
        await moveEdition(store, e, 'gathering', { next_at: clock.now() }, { at: clock.now(), actor: 'clockwork' });
        tools.crash('gather.after-move');
        return;
      case 'gathering':
        return gather(tools, e);
      case 'cleared':
        return writeMessages(tools, e);
      case 'sending':
        return send(tools, e);
      default:
        throw new Error(`nothing is to be done for an edition that is ${e.state}`);
    }
  }

  /** Works on one edition under a lease until it has to wait for something. */
  async function advance(id: string): Promise<void> {
    const first = await takeLease(store, id, lease());
    if (!first) return;
    const renewal = setInterval(() => {
      takeLease(store, id, lease()).catch((err) => log.error({ err, edition: id }, 'lease not renewed'));
    }, LEASE_MS / 3);
    try {
      let e: EditionRow | null = first;
      for (let i = 0; i < STEPS && e && e.next_at !== null && e.next_at <= clock.now() && !stopped; i++) {
        await step(e);
        e = await editionById(store, id);
      }
    } catch (err) {
      log.error({ err, edition: id }, 'edition could not be moved along');
      const e = await editionById(store, id);
      if (e?.state === 'sending') await postpone(store, id, addMinutes(clock.now(), 1), e.reason);
      else if (e) {
        const reason = 'Something went wrong on our side; see the server’s log. Nothing was lost.';
        await moveEdition(store, e, 'held', { reason, next_at: null }, { at: clock.now(), actor: 'clockwork' });
      }
    } finally {
      clearInterval(renewal);
      await releaseLease(store, id, self);
    }
  }

  /** Starts work on what is due and not under way, a few at a time; does not wait for it. */
  function launch(
    items: { id: string }[],
    running: Map<string, Promise<void>>,
    work: (id: string) => Promise<void>,
    atOnce: number,
  ): number {
    const free = items.filter((i) => !running.has(i.id)).slice(0, Math.max(0, atOnce - running.size));
    for (const { id } of free) {
      const done = work(id)
        .catch((err) => log.error({ err, id }, 'work failed'))
        .finally(() => running.delete(id));
      running.set(id, done);
    }
    return free.length;
  }

  /** One look at everything. True when something was started. */
  async function beat(): Promise<boolean> {
    for (const owner of await leaseOwners(store)) if (isDead(owner, self)) await releaseLeasesOf(store, owner);
    if (beats++ % INBOX_EVERY === 0) {
      await tools.inbox.look().catch((err) => log.error({ err }, 'the folders for files could not be read'));
    }
    await planAll(tools);
    const feeds = launch(await feedsDue(store, clock.now()), syncing, (id) => tools.syncs.run(id), FEEDS_AT_ONCE);
    const editions = launch(await editionsDue(store, clock.now()), moving, advance, AT_ONCE);
    return feeds + editions > 0;
  }

  function look(): Promise<boolean> {
    beating ??= beat()
      .catch((err) => {
        log.error({ err }, 'the clockwork stumbled');
        return false;
      })
      .finally(() => {
        beating = null;
      });
    return beating;
  }

  const schedule = () => {
    if (stopped) return;
    timer = setTimeout(() => look().finally(schedule), POLL_MS);
  };

  return {
    start: schedule,
    nudge: () => void look(),
    async settle() {
      if (beating) await beating;
      while ((await look()) || syncing.size + moving.size > 0) {
        await Promise.all([...syncing.values(), ...moving.values()]);
      }
    },
    async stop() {
      stopped = true;
      if (timer) clearTimeout(timer);
      if (beating) await beating;
      await Promise.all([...syncing.values(), ...moving.values()]);
    },
  };
}
