import { FOLLOWERS_SHOWN } from '@chronicon/core/bounds';
import type { Follower, Followers } from '@chronicon/core/contract';
import {
  applyEdits,
  bindDocument,
  type Draft,
  designFor,
  type Edit,
  editsBetween,
  editWords,
  type ReportDocument,
} from '@chronicon/core/report';
import { wordsFor } from '@chronicon/core/words';
import { notFound, Refusal } from '../platform/refusal.ts';
import { clientById } from '../store/clients.ts';
import { reportById, type StoredReport } from '../store/reports.ts';
import { versionsOf } from '../store/reportVersions.ts';
import type { Store } from '../store/store.ts';
import { followersCounted, followersOf, type StoredTemplate, templateAt, templateById } from '../store/templates.ts';
import type { Visibility } from '../store/visibility.ts';
import { readEdited } from './readEdited.ts';

const english = wordsFor('en-GB');
export const nameOfKind = (kind: string): string => english.blocks[kind] ?? kind;

/** How a version is called that was kept before its report followed a template. */
export const BEFORE = 'Before it used the template';

/** @throws Refusal for a template that is not there */
export async function theTemplate(db: Store, id: string): Promise<StoredTemplate> {
  const found = await templateById(db, id);
  if (!found) throw notFound('template');
  return found;
}

/** The edits by which a report comes from the version of a template that it has to the newest one, as its client has it. */
async function editsFor(db: Store, t: StoredTemplate, { template, clientId }: StoredReport): Promise<Edit[]> {
  if (!template || template.version >= t.version) return [];
  const before = await templateAt(db, t.id, template.version);
  if (!before) return [];
  const { name } = (await clientById(db, clientId))!;
  const asItsClient = ({ title, document }: Draft): Draft => ({
    title,
    document: bindDocument(designFor(document, name), template.binding),
  });
  // What a report is called is its own.
  return editsBetween(asItsClient(before), asItsClient(t)).filter((e) => e.op !== 'title');
}

/** The kept version by which the last following is undone, where it is the newest of them. */
async function undoOf(db: Store, report: StoredReport): Promise<string | null> {
  const [last] = await versionsOf(db, report.id);
  return last?.kind === 'before' && last.name.startsWith(BEFORE) ? last.id : null;
}

/** Reports that follow a template, those that are behind first, each with what its newest version would change. */
export async function followingOf(
  { store }: { store: Store },
  visibility: Visibility,
  { template, page }: { template: string; page: number },
): Promise<Followers> {
  const t = await theTemplate(store, template);
  const shown = { offset: (page - 1) * FOLLOWERS_SHOWN, limit: FOLLOWERS_SHOWN };
  const followers: Follower[] = [];
  for (const { id, clientId, client, title } of await followersOf(store, visibility, t, shown)) {
    const report = (await reportById(store, id))!;
    const said = editWords(report, await editsFor(store, t, report), nameOfKind);
    const version = report.template?.version ?? t.version;
    const undo = version === t.version ? await undoOf(store, report) : null;
    followers.push({ report: id, title, client: { id: clientId, name: client }, version, ...said, undo });
  }
  return { followers, ...(await followersCounted(store, visibility, t)), page, pageSize: FOLLOWERS_SHOWN };
}

/** What a report is once it follows the newest version, or why it cannot; null where it has that already. */
export interface Followed {
  report: string;
  title: string;
  /** Of the report that it was made from. */
  version: number;
  document: ReportDocument | null;
  problem: { message: string; fields: Record<string, string> } | null;
}

/** The followers of a template as they are with its version of now: what takes long of following, and writes nothing. */
export async function followedOf(
  { store }: { store: Store },
  { template, reports }: { template: string; reports: readonly string[] },
): Promise<Followed[]> {
  const t = await theTemplate(store, template);
  const found: Followed[] = [];
  for (const id of reports) {
    const report = (await reportById(store, id))!;
    const of = { report: id, title: report.title, version: report.version };
    if (report.template?.id !== t.id) {
      found.push({ ...of, document: null, problem: { message: 'It doesn’t use this template.', fields: {} } });
      continue;
    }
    if (report.template.version >= t.version) {
      found.push({ ...of, document: null, problem: null });
      continue;
    }
    try {
      const { draft } = applyEdits(report, await editsFor(store, t, report));
      found.push({ ...of, document: readEdited(draft.document), problem: null });
    } catch (error) {
      if (!(error instanceof Refusal)) throw error;
      found.push({ ...of, document: null, problem: { message: error.message, fields: error.fields } });
    }
  }
  return found;
}
