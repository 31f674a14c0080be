import { wallClock } from '@chronicon/core/calendar';
import type { Releasing, Report } from '@chronicon/core/contract';
import { FOLLOWING } from '@chronicon/core/edition';
import { formatterOf } from '@chronicon/core/words';
import { commentariesOf } from '../store/commentaries.ts';
import { type EditionRow, editionsOfReport } from '../store/editions.ts';
import { memberById } from '../store/members.ts';
import type { StoredReport } from '../store/reports.ts';
import { nextRunsOf } from '../store/runs.ts';
import { schedulesOfReport } from '../store/schedules.ts';
import type { Store } from '../store/store.ts';
import { templateById } from '../store/templates.ts';
import type { Api } from './context.ts';
import { withClient } from './looking.ts';

/** What went out lately is worth a word when it can no longer be reached, in minutes. */
const LATELY = 36 * 60;
const RUNS_AHEAD = 3;

/** Whether what is edited differs from what goes out. */
async function needsRelease(db: Store, report: StoredReport): Promise<boolean> {
  if (report.release === null) return true;
  const same =
    report.release.title === report.title &&
    JSON.stringify(report.release.document) === JSON.stringify(report.document);
  return !same || (await commentariesOf(db, report.id)).some((c) => c.draft !== c.released);
}

export async function describeReport(db: Store, report: StoredReport): Promise<Report> {
  const { release, template, ...rest } = report;
  const followed = template && (await templateById(db, template.id));
  return {
    ...rest,
    template: followed && { id: followed.id, name: followed.name, version: template.version, newest: followed.version },
    released: release && {
      at: release.at,
      by: release.by === null ? null : ((await memberById(db, release.by))?.name ?? null),
      current: !(await needsRelease(db, report)),
      assumptions: release.document.assumptions ?? [],
      pages: release.document.pages.filter((p) => !p.dropped).map(({ id, title }) => ({ id, title })),
    },
  };
}

/** The editions and runs that releasing a report now reaches, and those that have gone or are on their way. */
export async function releasingOf(api: Api, report: StoredReport): Promise<Releasing> {
  const { store, clock } = api;
  const client = await withClient(api, report);
  const now = clock.now();
  const english = formatterOf('en-GB', client.currency);
  const since = new Date(Date.parse(now) - LATELY * 60_000).toISOString();
  const editions = (await editionsOfReport(store, report.id, since)).filter((e) => e.kind !== 'test');
  const line = (e: EditionRow) => ({
    key: e.id,
    edition: e.id,
    at: e.due_at,
    local: wallClock(e.due_at, client.zone),
    label: e.period_from && e.period_to ? english.range({ from: e.period_from, to: e.period_to }) : e.title,
    state: e.state,
  });
  const made = new Set(editions.map((e) => `${e.schedule_id} ${e.nominal}`));
  const schedules = (await schedulesOfReport(store, report.id)).map((s) => s.id);
  const runs = [...(await nextRunsOf(store, schedules, now, RUNS_AHEAD))].flatMap(([schedule, next]) =>
    next
      .filter((r) => !made.has(`${schedule} ${r.nominal}`))
      .map((r) => ({
        key: `${schedule}-${r.nominal}`,
        edition: null,
        at: r.at,
        local: wallClock(r.at, client.zone),
        label: english.range(r.period),
        state: 'planned' as const,
      })),
  );
  const follows = (e: EditionRow) => FOLLOWING.includes(e.state) && !(e.state === 'ready' && e.next_at === null);
  const byInstant = <T extends { at: string }>(list: T[]) => list.sort((a, b) => Date.parse(a.at) - Date.parse(b.at));
  return {
    needed: await needsRelease(store, report),
    reaches: byInstant([...editions.filter(follows).map(line), ...runs]).slice(0, 8),
    tooLate: byInstant(editions.filter((e) => ['sending', 'sent', 'part-sent'].includes(e.state)).map(line)),
  };
}
