import { blockKind } from './blocks/registry.ts';
import { blocksOf, type ReportDocument } from './document.ts';

/** The commentaries of a report that are written anew for each period, in reading order, by id. */
export const periodCommentariesOf = (document: ReportDocument): string[] =>
  blocksOf(document)
    .filter((b) => blockKind(b).isWritten(b))
    .map((b) => b.id);

/** The blocks for which words may be written for a period: those, and what makes its words itself until somebody does. */
export const writableOf = (document: ReportDocument): string[] =>
  blocksOf(document)
    .filter((b) => blockKind(b).isWritten(b) || blockKind(b).mayBeWritten)
    .map((b) => b.id);

/** Those of them that have no words yet, given what was written for a period by block. */
export const unwrittenOf = (document: ReportDocument, written: Readonly<Record<string, string>>): string[] =>
  periodCommentariesOf(document).filter((id) => (written[id] ?? '').trim() === '');
