import { generateKeyPair } from 'node:crypto';
import { promisify } from 'node:util';
import type { KeptDkim } from '../store/mailRules.ts';
import type { Secrets } from '../store/secrets.ts';

/** Outside the thread that answers people: it may take a second. */
const generate = promisify(generateKeyPair);

/** A key that mails are signed with: RSA of 2,048 bits, as receivers ask for (RFC 8301 §3.2). The private part is sealed at once. */
export async function makeDkim(of: { domain: string; selector: string }, secrets: Secrets): Promise<KeptDkim> {
  const { privateKey, publicKey } = await generate('rsa', {
    modulusLength: 2048,
    publicKeyEncoding: { type: 'spki', format: 'der' },
    privateKeyEncoding: { type: 'pkcs8', format: 'pem' },
  });
  return { ...of, publicKey: publicKey.toString('base64'), secret: secrets.seal(privateKey) };
}

/** The record of the domain by which other servers find the key (RFC 6376 §3.6). */
export const dkimRecord = ({ domain, selector, publicKey }: Pick<KeptDkim, 'domain' | 'selector' | 'publicKey'>) => ({
  name: `${selector}._domainkey.${domain}`,
  record: `v=DKIM1; k=rsa; p=${publicKey}`,
});
