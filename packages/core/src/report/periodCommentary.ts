import { blockKind } from './blocks/registry.ts';
import { blocksOf, type ReportDocument } from './document.ts';

/** The commentaries of a report that are written anew for each period, in reading order, by id. */
export const periodCommentariesOf = (document: ReportDocument): string[] =>
  blocksOf(document)
    .filter((b) => blockKind(b).isWritten(b))
    .map((b) => b.id);

/** Those of them that have no words yet, given what was written for a period by block. */
export const unwrittenOf = (document: ReportDocument, written: Readonly<Record<string, string>>): string[] =>
  periodCommentariesOf(document).filter((id) => (written[id] ?? '').trim() === '');
