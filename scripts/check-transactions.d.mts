/** Transactions of a source, and what of them must not run twice, as `line: what`. */
export function checkTransactions(text: string, file: string): { transactions: number; faults: string[] };
