import { setMaxListeners } from 'node:events';
import { editionsDue } from '../store/editions.ts';
import { faultOf } from '../store/faults.ts';
import { feedsDue } from '../store/feeds.ts';
import { deliveriesDue } from '../store/messages.ts';
import { nextDue } from '../store/nextDue.ts';
import { mayProbe, type SendingStop, sendingStops } from '../store/sendingStops.ts';
import { advance } from './advance.ts';
import { endDelegations } from './delegation.ts';
import { createHandOver } from './handOver.ts';
import { roomNow } from './mailPace.ts';
import { planAll } from './plan.ts';
import { createSlots, type Slots } from './slots.ts';
import type { Tools } from './tools.ts';
import { createWatch } from './watch.ts';

const POLL_MS = 500;
/** Between the end of one piece of work and the look for the next: some that end together are followed up together. */
const FOLLOW_MS = 30;
/** Characters of an instant that name its minute. */
const MINUTE = 16;
/** Looks between looks into the folders for files. */
const INBOX_EVERY = 6;
/** Editions that wait for their feeds, or for a worker thread, at once: a slow service holds up its own alone. */
const COLLECTED_AT_ONCE = 16;
/** Editions whose time has come and that become mails at once: they wait for no feed, and for none that does. */
const BEGUN_AT_ONCE = 8;
/** Mails that are handed over at once: a slow conversation holds up its own reader alone. */
const SENT_AT_ONCE = 12;
/** Feeds that are asked side by side, whatever their services; each kind has a limit of its own. */
const FEEDS_AT_ONCE = 12;

export interface Scheduler {
  start(): void;
  /** Milliseconds since the last look came to its end; 0 before the start and after the end. */
  stillFor(): number;
  /** Looks now instead of at the next beat. */
  nudge(): void;
  /** Resolves when nothing is due any more at the present time but what another server is at work on. */
  settle(): Promise<void>;
  /** Takes no more work, aborts what is being handed over, lets the rest end. */
  stop(): Promise<void>;
}

/** Which of the mails that are due may go: all, none while something stops them, or one to see whether the server is back. */
function mayGo(stops: readonly SendingStop[], now: string): number {
  if (stops.length === 0) return SENT_AT_ONCE * 2;
  return mayProbe(stops, now) ? 1 : 0;
}

/** Finds what is due and moves it along: runs to editions, editions to mails, feeds to facts. */
export function createScheduler(tools: Tools): Scheduler {
  const { store, clock, log, instance } = tools;
  const syncing = createSlots(FEEDS_AT_ONCE, log);
  const collecting = createSlots(COLLECTED_AT_ONCE, log, () => follow());
  const beginning = createSlots(BEGUN_AT_ONCE, log, () => follow());
  const sending = createSlots(SENT_AT_ONCE, log, () => follow());
  const faults = new Map<string, number>();
  const ending = new AbortController();
  // Every mail on its way listens, and each fault notice.
  setMaxListeners(0, ending.signal);
  const watch = createWatch(tools, ending.signal);
  const handOver = createHandOver(tools, ending.signal);
  let timer: NodeJS.Timeout | null = null;
  let beating: Promise<boolean> | null = null;
  let beats = 0;
  /** The minute of the last look at everything. */
  let lookedIn = '';
  let started = false;
  // By real time: a demo's clock may jump while a look goes on.
  let looked = performance.now();
  let following: NodeJS.Timeout | null = null;
  let filling: Promise<unknown> = Promise.resolve();

  const isStopped = () => ending.signal.aborted;

  const free = (d: { id: string }) => !sending.has(d.id) && !handOver.isPausing(d.id);

  async function sendWhatIsDue(): Promise<number> {
    // What has gone is written down whatever stops the rest.
    const owed = sending.fill(handOver.owed().filter(free), (d) => handOver.run(d));
    return owed + (await sendMails());
  }

  async function sendMails(): Promise<number> {
    if (tools.health.troubles().length > 0) return 0;
    const stops = await sendingStops(store);
    const now = clock.now();
    const limit = Math.min(mayGo(stops, now), await roomNow(store, now));
    // One try at a time while it is not known whether the server is back.
    if (limit === 0 || (stops.length > 0 && sending.running > 0)) return 0;
    const most = limit + sending.running + handOver.pausing();
    const due = await deliveriesDue(store, now, instance, most);
    return sending.fill(due.filter(free).slice(0, limit), (d) => handOver.run(d));
  }

  async function moveWhatIsDue(): Promise<number> {
    const under = collecting.running + beginning.running;
    const next = async (slots: Slots, drawn: boolean) => {
      if (slots.free === 0) return 0;
      const due = await editionsDue(store, clock.now(), instance, drawn, slots.free + under);
      const idle = due.filter((e) => !collecting.has(e.id) && !beginning.has(e.id));
      return slots.fill(idle, ({ id }) => advance(tools, id, faults, isStopped));
    };
    return (await next(beginning, true)) + (await next(collecting, false));
  }

  /** Mails and editions that are due take up what room there is; one look after the other, so that none is counted twice. */
  function fill(): Promise<number> {
    const filled = filling.then(async () => (isStopped() ? 0 : (await moveWhatIsDue()) + (await sendWhatIsDue())));
    filling = filled.catch(() => undefined);
    return filled;
  }

  /** What is due takes the place of what has ended, without waiting for the next beat. */
  function follow(): void {
    if (!started || following !== null || isStopped()) return;
    following = setTimeout(() => {
      following = null;
      fill().catch(stumble);
    }, FOLLOW_MS);
  }

  /** Whether a look would find nothing to do: nothing is due, and none of what goes by the day can have come since. */
  async function isQuiet(): Promise<boolean> {
    const now = clock.now();
    if (now.slice(0, MINUTE) !== lookedIn || handOver.owed().length > 0) return false;
    const due = await nextDue(store);
    return due === null || due > now;
  }

  /** One look at everything. True when something was started. */
  async function beat(isAsked: boolean): Promise<boolean> {
    if (beats++ % INBOX_EVERY === 0) {
      await tools.inbox.look().catch((err) => log.error({ err }, 'the folders for files could not be read'));
    }
    await watch.look();
    if (isStopped() || (!isAsked && (await isQuiet()))) return false;
    lookedIn = clock.now().slice(0, MINUTE);
    await endDelegations(tools);
    const more = await planAll(tools);
    const feeds = syncing.fill(await feedsDue(store, clock.now(), FEEDS_AT_ONCE + syncing.running), ({ id }) =>
      tools.syncs.run(id),
    );
    return feeds + (await fill()) > 0 || more;
  }

  /** A fault of the disk or the database stops sending until a look finds all well again. */
  function stumble(err: unknown): boolean {
    log.error({ err }, 'the scheduler stumbled');
    const fault = faultOf(err);
    if (fault && fault.cause !== 'busy') tools.health.met(fault);
    return false;
  }

  /** @param isAsked somebody has just changed something, or waits for it */
  function look(isAsked: boolean): Promise<boolean> {
    if (isStopped()) return Promise.resolve(false);
    beating ??= beat(isAsked)
      .catch(stumble)
      .finally(() => {
        beating = null;
        looked = performance.now();
      });
    return beating;
  }

  const schedule = () => {
    if (isStopped()) return;
    timer = setTimeout(() => look(false).finally(schedule), POLL_MS);
  };
  const slots = [syncing, collecting, beginning, sending];
  const isBusy = () => slots.some((s) => s.running > 0);
  const idle = () => Promise.all([filling, ...slots.map((s) => s.idle()), watch.idle()]);

  return {
    start() {
      started = true;
      looked = performance.now();
      schedule();
    },
    stillFor: () => (started && !isStopped() ? performance.now() - looked : 0),
    nudge: () => void look(true),
    async settle() {
      if (beating) await beating;
      while ((await look(true)) || isBusy()) await idle();
      await watch.idle();
    },
    async stop() {
      ending.abort();
      if (timer) clearTimeout(timer);
      if (following) clearTimeout(following);
      if (beating) await beating;
      await idle();
    },
  };
}
