import { writeSetting } from '../store/settings.ts';
import type { Scheduler } from './scheduler.ts';
import type { Tools } from './tools.ts';

/** Tells the simulators how far the clock was moved: they have to live on the same day. */
export async function tellSimulators(tools: Pick<Tools, 'config' | 'clock'>): Promise<void> {
  if (!tools.config.simulators) return;
  await fetch(new URL('/control/clock', tools.config.simulators), {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ offset: tools.clock.offset }),
  });
}

/** Moves the clock of a demo or test forward, for good, and waits until what became due is done. */
export async function moveClock(
  tools: Pick<Tools, 'config' | 'clock' | 'store'> & { scheduler: Scheduler },
  to: string,
): Promise<void> {
  tools.clock.moveTo(to);
  await writeSetting(tools.store, 'clock.offset', String(tools.clock.offset));
  await tellSimulators(tools);
  await tools.scheduler.settle();
}
