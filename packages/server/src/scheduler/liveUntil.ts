import { addMinutes } from '@chronicon/core/calendar';
import { nextInstant } from '../store/nextInstant.ts';
import { moveClock } from './moveClock.ts';

/**
 * Moves the clock of a demo forward and lives through what it skips: each run, each mail and each time-limit in its turn, with
 * the figures that there were then. Between two steps lies a minute at least.
 */
export async function liveUntil(tools: Parameters<typeof moveClock>[0], to: string): Promise<void> {
  let reached = tools.clock.now();
  for (;;) {
    // What became due while the last step was lived through is a step of its own.
    const next = await nextInstant(tools.store, reached, to);
    if (next === null) break;
    const soonest = addMinutes(tools.clock.now(), 1);
    const step = next > soonest ? next : soonest;
    if (step >= to) break;
    await moveClock(tools, step);
    reached = step;
  }
  // On a busy machine the clock may have gone past it by itself.
  if (tools.clock.now() < to) await moveClock(tools, to);
}
