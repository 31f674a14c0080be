import { type CompiledQuery, type OperationNode, type RootOperationNode, TableNode } from 'kysely';

/** The table that a statement writes to; null where it cannot be told. */
function tableOf(node: RootOperationNode): string | null {
  const named: OperationNode | undefined =
    node.kind === 'InsertQueryNode'
      ? node.into
      : node.kind === 'UpdateQueryNode'
        ? node.table
        : node.kind === 'DeleteQueryNode'
          ? node.from.froms[0]
          : undefined;
  return named && TableNode.is(named) ? named.table.identifier.name : null;
}

/**
 * How often each table was written to through one opened database. Triggers and foreign keys write to none that anybody asks
 * about here: no key of the schema cascades.
 */
export class Writes {
  private readonly counts = new Map<string, number>();
  /** What was written by nobody knows what, by another process, or was taken back. */
  private others = 0;
  private foreign: unknown;
  /** Tables that the transaction under way has written to; null: any. */
  private dirty: Set<string> | null = new Set();

  /** @param foreignMark another value whenever another process has committed something */
  constructor(private readonly foreignMark: () => unknown) {
    this.foreign = foreignMark();
  }

  wrote(query: CompiledQuery, inTransaction: boolean): void {
    const table = tableOf(query.query);
    if (inTransaction) {
      if (table === null) this.dirty = null;
      else this.dirty?.add(table);
    }
    this.count(table);
  }

  /** Once a transaction has ended: what others read of its tables meanwhile was not what is there now. */
  ended(): void {
    if (this.dirty === null) this.count(null);
    else for (const table of this.dirty) this.count(table);
    this.dirty = new Set();
  }

  /** A number that is another one whenever one of the tables may have changed; null while a transaction is changing one. */
  markOf(tables: readonly string[]): number | null {
    const { dirty } = this;
    if (dirty === null || tables.some((t) => dirty.has(t))) return null;
    const foreign = this.foreignMark();
    if (foreign !== this.foreign) {
      this.foreign = foreign;
      this.others++;
    }
    return tables.reduce((n, t) => n + (this.counts.get(t) ?? 0), this.others);
  }

  private count(table: string | null): void {
    if (table === null) this.others++;
    else this.counts.set(table, (this.counts.get(table) ?? 0) + 1);
  }
}
