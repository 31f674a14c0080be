import { type Difference, differencesFrom, type Fingerprint, hostOf, type Owner, wordsOf } from './fingerprint.ts';

export interface Match {
  clientId: string;
  /** Why it is thought of. */
  by: 'site' | 'name';
  differences: Difference[];
}

/** Words that many names have say little about whom they mean. */
function weights(clients: readonly Owner[]): (word: string) => number {
  const seen = new Map<string, number>();
  for (const c of clients) for (const w of new Set(wordsOf(c.name))) seen.set(w, (seen.get(w) ?? 0) + 1);
  return (word) => 1 / (seen.get(word) ?? 1);
}

/** How alike two names are: 0 to 1, rare words weighing more. The site's words may speak for the account's name. */
function likeness(client: Owner, account: Fingerprint, weight: (word: string) => number): number {
  const own = [...new Set(wordsOf(client.name))];
  const theirs = [...new Set(wordsOf(account.name))];
  const found = new Set([...theirs, ...wordsOf(hostOf(account.site))]);
  const sum = (list: string[]) => list.reduce((n, w) => n + weight(w), 0);
  const all = sum(own) + sum(theirs);
  return all === 0 ? 0 : Math.min(1, (2 * sum(own.filter((w) => found.has(w)))) / all);
}

const ENOUGH = 0.5;

/**
 * The client that each account seems to belong to, or null: the one with its site, else the one whose name is most
 * like it. Where two are equally likely, none is: a person has to choose.
 * @returns one entry for each account, in their order
 */
export function suggestClients(
  accounts: readonly Fingerprint[],
  clients: readonly (Owner & { id: string })[],
): (Match | null)[] {
  const weight = weights(clients);
  return accounts.map((account) => {
    const host = hostOf(account.site);
    const matchOf = (client: Owner & { id: string }, by: Match['by']): Match => ({
      clientId: client.id,
      by,
      differences: differencesFrom(client, account),
    });
    const bySite = host === '' ? [] : clients.filter((c) => hostOf(c.site) === host);
    if (bySite.length === 1) return matchOf(bySite[0]!, 'site');
    const pool = bySite.length > 1 ? bySite : clients;
    const ranked = pool
      .map((client) => ({ client, score: likeness(client, account, weight) }))
      .filter((x) => x.score >= ENOUGH)
      .sort((a, b) => b.score - a.score);
    const [first, second] = ranked;
    if (!first || (second && second.score === first.score)) return null;
    return matchOf(first.client, 'name');
  });
}
