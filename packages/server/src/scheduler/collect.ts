import { addMinutes, wallClock } from '@chronicon/core/calendar';
import { because, type HoldCode } from '@chronicon/core/edition';
import { metricBook } from '@chronicon/core/figures';
import type { DrawOrder, FrozenForMail } from '@chronicon/core/page';
import { describeLacks, formatterOf } from '@chronicon/core/words';
import { uniquesFor } from '../feeds/uniques.ts';
import { knowledgeOf } from '../figures/reading.ts';
import { questionsFor } from '../render/draw.ts';
import { type EditionRow, moveEdition, patchEdition } from '../store/editions.ts';
import { isStale } from '../store/editionsReached.ts';
import { feedsOf } from '../store/feeds.ts';
import { keepEditionPictures } from '../store/fileRegister.ts';
import type { Lease } from '../store/instances.ts';
import type { StoredSchedule } from '../store/schedules.ts';
import { waitsForOddDays } from '../store/settings.ts';
import { inTransaction } from '../store/store.ts';
import { picturesAt } from '../workers/itemPictures.ts';
import { keepForMail } from './editionFiles.ts';
import { columnsOf, drawOrderOf, madeOf, type Settled, settle } from './orders.ts';
import { asksUntil } from './signingOff.ts';
import type { Tools } from './tools.ts';

/** Minutes between looks for data that has not come. */
const LOOK_AGAIN = 15;
/** A feed asked this recently is not asked again before drawing. */
const FRESH_MINUTES = 30;
/** Feeds that have not answered by then are not waited for, in milliseconds: what lacks is said. */
const FRESHEN_WAIT = 180_000;

async function freshen(tools: Tools, clientId: string): Promise<void> {
  const since = addMinutes(tools.clock.now(), -FRESH_MINUTES);
  // A stopped feed waits for a person.
  const stale = (await feedsOf(tools.store, clientId)).filter(
    (f) => f.state !== 'stopped' && (f.last_success === null || f.last_success < since),
  );
  if (stale.length === 0) return;
  let timer: NodeJS.Timeout | undefined;
  const enough = new Promise<void>((resolve) => {
    timer = setTimeout(resolve, FRESHEN_WAIT);
  });
  await Promise.race([enough, Promise.all(stale.map((f) => tools.syncs.run(f.id, true)))]);
  clearTimeout(timer);
}

/** What a drawn edition does next: it goes at its time, it waits for a person, or nobody is to get it. */
function afterDrawing(
  e: EditionRow,
  { orders, schedule }: Settled,
  { turned, undrawable }: { turned: readonly string[]; undrawable: string | null },
  now: string,
) {
  if (orders.readers.length === 0) {
    // A run that was to have readers, and has none, is not put away in silence.
    if (e.kind === 'scheduled' && schedule && !schedule.archive) return { to: 'ready' as const, next_at: e.due_at };
    return { to: 'ready' as const, next_at: null };
  }
  // Whoever makes one by hand sees it, and whom it reaches, before it goes.
  if (e.kind === 'by-hand' && e.approval_id === null) return { to: 'review' as const, next_at: null };
  const asks = e.kind === 'scheduled' && e.approval_id === null ? (schedule?.signOff.rule ?? 'none') : 'none';
  if (asks === 'first') return { to: 'review' as const, next_at: null };
  if (e.kind === 'scheduled' && e.approval_id === null && undrawable !== null) {
    const reason = `${undrawable} Use other characters, or review and send.`;
    return { to: 'held' as const, next_at: null, code: 'undrawable' as const, reason };
  }
  if (e.kind === 'scheduled' && e.approval_id === null && turned.length > 0) {
    const [first, ...more] = turned;
    const rest =
      more.length > 0 ? ` The same applies to ${more.length} more ${more.length === 1 ? 'metric' : 'metrics'}.` : '';
    const reason = `${first}${rest} Add a note explaining the day, exclude the day, or review and send.`;
    return { to: 'held' as const, next_at: null, code: 'odd-day' as const, reason };
  }
  if (e.was_held === 1 && e.approval_id === null && now >= e.due_at) {
    return { to: 'held' as const, next_at: null, ...because('can-go') };
  }
  const until = asks === 'until' ? asksUntil(schedule!, e) : null;
  if (until !== null && now < until) return { to: 'review' as const, next_at: until };
  if (until !== null && e.pdf === null) {
    // The server was down, or it was planned too late: nobody could look at it.
    const reason = 'It was ready only after its approval deadline. Review it, then send it.';
    return { to: 'held' as const, next_at: null, code: 'late' as const, reason };
  }
  return { to: 'ready' as const, next_at: e.due_at };
}

/**
 * Gets fresh data, reads anew what the edition is made from, and draws it once every day that it reads has been
 * delivered. What lacks days waits; when the send time comes and they still lack, it is held with the reason. Files are
 * on disk before the row says so. What changes while it is drawn has it drawn again.
 */
export async function collect(tools: Tools, e: EditionRow, lease: Lease): Promise<void> {
  const { store, clock, crash } = tools;
  const by = () => ({ at: clock.now(), actor: 'scheduler', lease });
  const hold = (code: HoldCode, reason: string) => {
    const at = clock.now();
    return moveEdition(store, e, 'held', { code, reason, looked_at: at, next_at: null, stale: 0 }, by());
  };
  await freshen(tools, e.client_id);
  // Whatever changes from here on marks it stale again.
  const found = await inTransaction(store, async (tx) => {
    const settled = await settle(tx, e);
    const order = await drawOrderOf(tx, e, settled, clock.now());
    const kept = await patchEdition(tx, e, { ...columnsOf(settled), stale: 0 }, lease);
    return kept ? { settled, order } : null;
  });
  if (!found) return;
  const { settled, order } = found;
  if (!order) {
    const { reason } = because('never-released');
    const gone =
      settled.report.release === null ? reason : 'The pages its schedule includes were deleted. Choose others there.';
    await hold('never-released', gone);
    return;
  }
  await uniquesFor(tools, order.clientId, questionsFor(order), knowledgeOf(order));
  crash('draw.before-files');
  // The file carries the time of its run: whoever draws the same run from the same data has the same bytes.
  const result = await tools.workers.edition(order, e.kind === 'scheduled' ? e.due_at : e.created_at, (addresses) =>
    picturesAt(tools, order.clientId, addresses),
  );
  if ('lacks' in result) {
    await waitForData(tools, e, lease, settled, await lackWords(tools, order, result.lacks));
    return;
  }
  crash('draw.after-files');
  await tools.precedence.turn();
  keepForMail(result.frozen, result.forMail);
  const turned = (await waitsForOddDays(store)) ? result.turned : [];
  const { to, ...rest } = afterDrawing(e, settled, { turned, undrawable: result.undrawable }, clock.now());
  await inTransaction(store, async (tx) => {
    // Something changed while it was drawn: it stays in collecting, and is looked at again at once.
    if (await isStale(tx, e.id)) return;
    const made_of = madeOf(order, result.revision);
    const isMoved = await moveEdition(
      tx,
      e,
      to,
      { frozen: result.frozen, pdf: result.pdf, made_of, looked_at: clock.now(), ...rest },
      by(),
    );
    if (isMoved) await keepEditionPictures(tx, e.id, picturesOf(result.forMail));
  });
  crash('draw.after-ready');
}

/** The pictures that were drawn for an edition's mail. */
const picturesOf = ({ mail }: FrozenForMail): string[] =>
  mail
    ? [...mail.shown.flatMap((s) => (s.kind === 'chart' ? [s.file] : [])), ...(mail.logo ? [mail.logo.file] : [])]
    : [];

async function lackWords(tools: Tools, order: DrawOrder, lacks: Parameters<typeof describeLacks>[0]): Promise<string> {
  const english = formatterOf('en-GB', order.currency);
  const feeds = await feedsOf(tools.store, order.clientId);
  return describeLacks(lacks, feeds, english, metricBook(order.metrics)).join(' ');
}

/**
 * Until when an edition looks for what lacks: its time, and as long after it as its schedule has patience. What a person is
 * to see first is shown as soon as it is drawn, and waits for nothing after its time.
 */
function waitsUntil(e: EditionRow, schedule: StoredSchedule | null): string {
  const hours = e.kind === 'scheduled' && schedule?.signOff.rule === 'none' ? schedule.patience : 0;
  return addMinutes(e.due_at, hours * 60);
}

/** Before its time, and within its schedule's patience after it, it looks again by itself; then it is held. */
async function waitForData(
  tools: Tools,
  e: EditionRow,
  lease: Lease,
  { schedule }: Settled,
  text: string,
): Promise<void> {
  const at = tools.clock.now();
  const until = waitsUntil(e, schedule);
  if (at >= until) {
    const patch = { code: 'late-data' as const, reason: `${text} Nothing was sent.`, looked_at: at, next_at: null };
    await moveEdition(tools.store, e, 'held', patch, { at, actor: 'scheduler', lease });
    return;
  }
  const later = addMinutes(at, LOOK_AGAIN);
  const end = at < e.due_at ? e.due_at : until;
  const next_at = later < end ? later : end;
  const reason = at < e.due_at ? text : `${text} Waiting for it until ${wallClock(until, schedule!.zone).time}.`;
  // What came meanwhile has marked it stale, with a look of its own.
  await inTransaction(tools.store, async (tx) => {
    await patchEdition(tx, e, { reason, looked_at: at, ...(!(await isStale(tx, e.id)) && { next_at }) }, lease);
  });
}
