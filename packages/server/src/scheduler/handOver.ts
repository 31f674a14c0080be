import { pauseOfServer } from '@chronicon/core/edition';
import type { Handed } from '../mail/outcome.ts';
import { editionById } from '../store/editions.ts';
import { faultOf } from '../store/faults.ts';
import type { DeliveryRow } from '../store/messages.ts';
import { outgoingOf } from './outgoing.ts';
import type { Tools } from './tools.ts';
import { type Claimed, claim, holdUnsent, writeDown } from './transmit.ts';

/** Hands mails over, one delivery at a time, and lets no fault of ours loop. */
export interface HandOver {
  /** One delivery: taken up, its address read anew, one conversation with the mail server, written down. */
  run(delivery: DeliveryRow): Promise<void>;
  /** Deliveries of which the mail server has said something that could not be written down yet. */
  owed(): DeliveryRow[];
  /** Whether a delivery waits after a fault of ours. */
  isPausing(id: string): boolean;
  /** How many wait at most. */
  pausing(): number;
}

/** How far one delivery has come when something fails. */
interface Progress {
  /** What was taken up, so that it can be put back. */
  claimed: Claimed | null;
  /** Whether what became of it is written down. */
  isDone: boolean;
}

/** A mail that cannot be made is looked at by a person. What is wrong with the server itself is no edition's fault. */
function unmade(error: unknown): { ok: false; reason: string } {
  if (faultOf(error)) throw error;
  return { ok: false, reason: 'Its email couldn’t be created due to a server error (see the log).' };
}

const OURS = 'Server error while sending its email (see the log).';

/** @param signal ends conversations that have not come to the last dot */
export function createHandOver(tools: Tools, signal: AbortSignal): HandOver {
  const { clock, log, mailer, crash, precedence } = tools;
  /** Until when nothing is tried, by the clock that only goes forward. */
  const pauses = new Map<string, { times: number; until: number }>();
  /** What the mail server said, while it could not be written down: the mail is not handed over again for that. */
  const unwritten = new Map<string, { claimed: Claimed; handed: Handed }>();

  async function finish(id: string, known: { claimed: Claimed; handed: Handed }): Promise<void> {
    unwritten.set(id, known);
    await writeDown(tools, known.claimed, known.handed);
    unwritten.delete(id);
    pauses.delete(id);
  }

  async function handOver(d: DeliveryRow, at: Progress): Promise<void> {
    await precedence.turn();
    const known = unwritten.get(d.id);
    if (known) return finish(d.id, known);
    crash('send.before-claim');
    const claimed = await claim(tools, d);
    if (!claimed) {
      pauses.delete(d.id);
      return;
    }
    at.claimed = claimed;
    crash('send.after-claim');
    const made = await outgoingOf(tools, claimed).catch((err: unknown) => {
      log.error({ err, delivery: d.id }, 'a mail could not be made');
      return unmade(err);
    });
    if (!made.ok) return holdUnsent(tools, claimed, { code: 'file', reason: made.reason });
    const handed = await mailer.send(made.mail, signal);
    unwritten.set(d.id, { claimed, handed });
    crash('send.after-accepted-by-server');
    await precedence.turn();
    await finish(d.id, { claimed, handed });
    at.isDone = true;
    crash('send.after-accepted-in-store');
  }

  function pause(id: string): void {
    const times = (pauses.get(id)?.times ?? 0) + 1;
    pauses.set(id, { times, until: clock.steady() + pauseOfServer(times) * 60_000 });
  }

  return {
    async run(d) {
      const at: Progress = { claimed: null, isDone: false };
      try {
        await handOver(d, at);
      } catch (error) {
        if (signal.aborted) return;
        const fault = faultOf(error);
        log.error({ err: error, delivery: d.id }, 'a mail could not be handed over');
        if (fault && fault.cause !== 'busy') tools.health.met(fault);
        if (at.isDone) return;
        pause(d.id);
        // A fault of the disk, the database or the key stops all mails until it is mended, and then this one is tried again.
        // What the mail server said is written down later. Anything else is left to a person.
        if (fault || unwritten.has(d.id)) return;
        const edition = await editionById(tools.store, d.edition_id);
        if (!edition) return;
        await holdUnsent(tools, at.claimed ?? { delivery: d, edition }, { code: 'error', reason: OURS });
        pauses.delete(d.id);
      }
    },
    owed: () => [...unwritten.values()].map((u) => u.claimed.delivery),
    pausing: () => pauses.size,
    isPausing: (id) => (pauses.get(id)?.until ?? Number.NEGATIVE_INFINITY) > clock.steady(),
  };
}
