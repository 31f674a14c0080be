import type { Api } from '../api/context.ts';
import { writeSetting } from '../store/settings.ts';

/** Tells the stand-ins how far the clock was moved: they have to live on the same day. */
export async function tellStandins(api: Pick<Api, 'config' | 'clock'>): Promise<void> {
  if (!api.config.standins) return;
  await fetch(new URL('/control/clock', api.config.standins), {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ offset: api.clock.offset }),
  });
}

/** Moves the clock of a demo or test forward, for good, and waits until what became due is done. */
export async function moveClock(api: Pick<Api, 'config' | 'clock' | 'store' | 'clockwork'>, to: string): Promise<void> {
  api.clock.moveTo(to);
  await writeSetting(api.store, 'clock.offset', String(api.clock.offset));
  await tellStandins(api);
  await api.clockwork.settle();
}
