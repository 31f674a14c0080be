import type { Clause } from './clauseTools.ts';
import { PDF_A_CLAUSES } from './pdfAClauses.ts';
import { PDF_UA_CLAUSES } from './pdfUaClauses.ts';

/** Both standards a page is held to, clause by clause. */
export const CLAUSES: readonly Clause[] = [...PDF_A_CLAUSES, ...PDF_UA_CLAUSES];
