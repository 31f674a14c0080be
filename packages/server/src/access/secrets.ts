import { createCipheriv, createDecipheriv, randomBytes } from 'node:crypto';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';

/** Encrypts the credentials of feeds and mail at rest: AES-256-GCM (NIST SP 800-38D). */
export interface Secrets {
  seal(plain: string): string;
  /** @throws Error when the text was not sealed with this key */
  open(sealed: string): string;
}

/** The key lies beside the databases, not in them, readable by the owner alone. */
export function openSecrets(folder: string): Secrets {
  const path = join(folder, 'secret.key');
  if (!existsSync(path)) writeFileSync(path, randomBytes(32).toString('base64'), { mode: 0o600, flag: 'wx' });
  const key = Buffer.from(readFileSync(path, 'utf8'), 'base64');
  if (key.length !== 32) throw new Error(`${path} does not hold a key of 32 bytes`);
  return {
    seal(plain) {
      const iv = randomBytes(12);
      const cipher = createCipheriv('aes-256-gcm', key, iv);
      const body = Buffer.concat([cipher.update(plain, 'utf8'), cipher.final()]);
      return Buffer.concat([iv, cipher.getAuthTag(), body]).toString('base64');
    },
    open(sealed) {
      const bytes = Buffer.from(sealed, 'base64');
      const decipher = createDecipheriv('aes-256-gcm', key, bytes.subarray(0, 12));
      decipher.setAuthTag(bytes.subarray(12, 28));
      return Buffer.concat([decipher.update(bytes.subarray(28)), decipher.final()]).toString('utf8');
    },
  };
}
