import type { ReportDocument } from '@chronicon/core/report';
import { z } from 'zod';
import type { Session } from '../access/sessions.ts';
import { atField, Refusal } from '../platform/refusal.ts';
import { ChangedMeanwhile } from '../scheduler/changedMeanwhile.ts';
import { record } from '../store/ledger.ts';
import { reportById, saveReport } from '../store/reports.ts';
import { keepVersion } from '../store/reportVersions.ts';
import type { StoreTransaction } from '../store/store.ts';
import { stored } from '../store/stored.ts';
import { setFollowed } from '../store/templates.ts';
import type { Api } from './context.ts';
import { inTurns, type Turn } from './inTurns.ts';
import { BEFORE, type Followed, theTemplate } from './templateFollowing.ts';

/** Reports of one task of a thread. */
const AT_ONCE = 8;

const CHANGED = 'The template changed in the meantime. Review its changes, then update the reports.';

/** What came out of a thread that held it against its schema. */
const followedIn = stored<Followed[]>(
  z.array(
    z.object({
      report: z.string(),
      title: z.string(),
      version: z.number(),
      document: z.custom<ReportDocument>((v) => typeof v === 'object').nullable(),
      problem: z.object({ message: z.string(), fields: z.record(z.string(), z.string()) }).nullable(),
    }),
  ),
  'what follows a template',
);

/**
 * Lets reports have a template's newest version, as drafts, a few to a transaction; what each was before is kept. What each becomes is
 * made in a thread before anything is written.
 * @throws Refusal at a report that cannot follow, and where the template has another version: nothing is changed then
 */
export async function letFollow(
  api: Api,
  { member }: Session,
  template: string,
  { version, reports }: { version: number; reports: readonly string[] },
): Promise<{ report: string; kept: string }[]> {
  const [at, by] = [api.clock.now(), member.id];
  if ((await theTemplate(api.store, template)).version !== version) throw new Refusal(409, CHANGED);
  const make = async (ids: readonly string[]): Promise<Followed[]> => {
    const query = { template, reports: ids };
    const bytes = await api.reads.run({ name: 'template.followed', query, member, now: at });
    return followedIn(Buffer.from(bytes).toString('utf8'));
  };
  const made = new Map<string, Followed>();
  for (let i = 0; i < reports.length; i += AT_ONCE) {
    for (const [n, f] of (await make(reports.slice(i, i + AT_ONCE))).entries()) {
      if (f.problem) throw atField(`reports.${i + n}`, `“${f.title}”: ${f.problem.message}`);
      made.set(f.report, f);
    }
  }
  const write = async (tx: StoreTransaction, { report: id, version: read, document }: Followed) => {
    const t = await theTemplate(tx, template);
    if (t.version !== version) throw new Refusal(409, CHANGED);
    if (document === null) return null;
    const report = (await reportById(tx, id))!;
    if (report.version !== read || report.template?.id !== t.id) throw new ChangedMeanwhile();
    const kept = await keepVersion(tx, report, { kind: 'before', name: `${BEFORE} “${t.name}”`, at, by });
    await saveReport(tx, { id, title: report.title, document, version: read, at });
    await setFollowed(tx, id, { id: t.id, version: t.version, binding: report.template.binding });
    await record(tx, { at, actor: by, action: 'report.followed', subject: id, detail: { template: t.id } });
    return { report: id, kept };
  };
  const turns = reports.map((id): Turn<{ report: string; kept: string } | null> => {
    let own = made.get(id)!;
    let isFirst = true;
    return {
      async ready() {
        if (!isFirst) own = (await make([id]))[0]!;
        if (own.problem) throw new Refusal(409, `“${own.title}”: ${own.problem.message}`);
        isFirst = false;
      },
      run: (tx) => write(tx, own),
    };
  });
  return (await inTurns(api, turns)).flatMap((f) => f ?? []);
}
