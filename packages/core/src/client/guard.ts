/** Domains out of a text that has blanks or commas between them, as small letters. */
export const splitDomains = (text: string): string[] => [
  ...new Set(
    text
      .toLowerCase()
      .split(/[\s,;]+/)
      .map((d) => d.replace(/^@/, ''))
      .filter((d) => d !== ''),
  ),
];

/** The domain of an address, in small letters; empty for a text that is no address. */
export const domainOf = (email: string): string =>
  email
    .slice(email.lastIndexOf('@') + 1)
    .trim()
    .toLowerCase();

/** The domain of a site's host, as people write it in addresses. */
const domainOfSite = (site: string): string =>
  site
    .toLowerCase()
    .replace(/^https?:\/\//, '')
    .replace(/^www\./, '')
    .replace(/[/:?#].*$/, '');

/** Whether an address is at one of a client's usual domains, or below one: those that are named, and its site's. */
export function isUsualAddress(client: { domains: string; site: string }, email: string): boolean {
  const usual = [...splitDomains(client.domains), domainOfSite(client.site)].filter((d) => d !== '');
  const domain = domainOf(email);
  return domain !== '' && usual.some((u) => domain === u || domain.endsWith(`.${u}`));
}

/** What the guard knows of a contact. */
export interface Guarded {
  email: string;
  /** `left` the client, wants no more mails (`declined`), or mails to the address `bounced`. */
  standing: 'reads' | 'left' | 'bounced' | 'declined';
  /** The address that a person has approved although it is at no usual domain. */
  approved: string;
}

/** Why nothing is handed over to somebody. */
export type GuardFault = 'left' | 'bounced' | 'declined' | 'outside';

/**
 * Whether an edition may go to a contact of a client as they are now; null when it may. Who left, or whose mails came
 * back, gets nothing; an address at no usual domain of the client gets nothing until a person has approved it.
 */
export function guard(client: { domains: string; site: string }, contact: Guarded): GuardFault | null {
  if (contact.standing !== 'reads') return contact.standing;
  return isUsualAddress(client, contact.email) || contact.approved === contact.email ? null : 'outside';
}

/** The same in words, with what mends it. */
export const GUARD_WORDS: Record<GuardFault, string> = {
  left: 'has left. Choose another reader.',
  bounced: 'is marked as bounced. Correct the address, then mark them as active.',
  declined: 'unsubscribed. Check with them before resubscribing, or choose another reader.',
  outside: 'has an unapproved address outside the client’s domains.',
};
