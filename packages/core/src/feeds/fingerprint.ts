/** What tells one account of a service from another. A wrong one sends one client's figures to another. */
export interface Fingerprint {
  id: string;
  name: string;
  site: string;
  zone: string;
  currency: string;
}

/** The client that a feed brings figures for, as far as an account can be held against it. */
export interface Owner {
  name: string;
  /** Empty when nobody gave it. */
  site: string;
  zone: string;
  currency: string;
}

export interface Difference {
  field: keyof Fingerprint;
  expected: string;
  found: string;
}

/** A web address or host as the bare host: no scheme, no `www.`, no path, small letters. */
export const hostOf = (site: string): string =>
  site
    .trim()
    .toLowerCase()
    .replace(/^[a-z][a-z0-9+.-]*:\/\//, '')
    .replace(/^www\./, '')
    .replace(/[/?#:].*$/, '')
    .replace(/\.$/, '');

/** The words of a name, small letters without accents. */
export const wordsOf = (name: string): string[] =>
  name
    .normalize('NFKD')
    .replace(/\p{M}/gu, '')
    .toLowerCase()
    .split(/[^\p{L}\p{N}]+/u)
    .filter((w) => w !== '');

const FIELDS = ['id', 'name', 'site', 'zone', 'currency'] as const;

/** In what an account is no longer the one that was confirmed; empty when it is. */
export const changesOf = (confirmed: Fingerprint, found: Fingerprint): Difference[] =>
  FIELDS.filter((f) => (f === 'site' ? hostOf(confirmed[f]) !== hostOf(found[f]) : confirmed[f] !== found[f])).map(
    (field) => ({ field, expected: confirmed[field], found: found[field] }),
  );

/** Names belong together when one has all words of the other. */
function sameName(a: string, b: string): boolean {
  const [x, y] = [wordsOf(a), wordsOf(b)];
  const [few, many] = x.length <= y.length ? [x, y] : [y, x];
  return few.length > 0 && few.every((w) => many.includes(w));
}

/**
 * In what an account does not look like the client's. A site that agrees vouches for the name; where no site is
 * known, the name has to agree. A shop of a client may sit below its site (`shop.` and the like).
 */
export function differencesFrom(client: Owner, account: Fingerprint): Difference[] {
  const found: Difference[] = [];
  const [own, theirs] = [hostOf(client.site), hostOf(account.site)];
  const siteKnown = own !== '' && theirs !== '';
  const siteAgrees = siteKnown && (own === theirs || theirs.endsWith(`.${own}`));
  if (siteKnown && !siteAgrees) found.push({ field: 'site', expected: client.site, found: account.site });
  if (!siteAgrees && !sameName(client.name, account.name)) {
    found.push({ field: 'name', expected: client.name, found: account.name });
  }
  for (const field of ['zone', 'currency'] as const) {
    if (client[field] !== account[field]) found.push({ field, expected: client[field], found: account[field] });
  }
  return found;
}

/**
 * Whether a person can say that the account is the right one all the same. Money of another currency would stand in
 * the report under the client's sign, so that cannot be confirmed.
 */
export const canConfirm = (differences: readonly Difference[]): boolean =>
  differences.every((d) => d.field !== 'currency');

const NAMES: Record<Difference['field'], string> = {
  id: 'number',
  name: 'name',
  site: 'site',
  zone: 'time zone',
  currency: 'currency',
};

/** What differs, as the end of a sentence: `site reed.example, not mosswick.example; currency EUR, not GBP`. */
export const describeDifferences = (differences: readonly Difference[]): string =>
  differences
    .map((d) => `${NAMES[d.field]} ${d.found || '(none)'}${d.expected ? `, not ${d.expected}` : ''}`)
    .join('; ');
