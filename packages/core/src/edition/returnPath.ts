/**
 * The return path of one delivery (RFC 5321 §4.4): the address to which mails come back, with a token of its own, so that what
 * comes back is known by where it comes to, whatever it says.
 * @param base the address at which mails come back, as `bounces@agency.example`
 * @param token letters and digits
 */
export function returnPathOf(base: string, token: string): string {
  const at = base.lastIndexOf('@');
  return `${base.slice(0, at)}+${token}${base.slice(at)}`;
}

/** The token of an address that {@link returnPathOf} made of a base; null for any other address. */
export function tokenOf(base: string, address: string): string | null {
  const [own, asked] = [base.toLowerCase(), address.trim().toLowerCase()];
  const at = own.lastIndexOf('@');
  const [local, domain] = [own.slice(0, at), own.slice(at)];
  if (at < 1 || !asked.startsWith(`${local}+`) || !asked.endsWith(domain)) return null;
  const token = asked.slice(local.length + 1, asked.length - domain.length);
  return /^[a-z0-9-]+$/.test(token) ? token : null;
}
