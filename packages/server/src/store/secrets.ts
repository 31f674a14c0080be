import { createCipheriv, createDecipheriv, randomBytes } from 'node:crypto';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { type Fault, faultOf, KeyError } from './faults.ts';

/** Encrypts the credentials of feeds and mail at rest: AES-256-GCM (NIST SP 800-38D). */
export interface Secrets {
  /** @throws KeyError while the key is missing or not the right one */
  seal(plain: string): string;
  /** @throws KeyError while the key is missing or not the right one; Error when the text was not sealed by it */
  open(sealed: string): string;
  /** What is wrong with the key, looked up anew; null when nothing is. */
  trouble(): Fault | null;
  /** Remembers a text that the key has to open from now on. */
  expect(check: string): void;
}

function openWith(key: Buffer, sealed: string): string {
  const bytes = Buffer.from(sealed, 'base64');
  const decipher = createDecipheriv('aes-256-gcm', key, bytes.subarray(0, 12));
  decipher.setAuthTag(bytes.subarray(12, 28));
  return Buffer.concat([decipher.update(bytes.subarray(28)), decipher.final()]).toString('utf8');
}

/**
 * The key lies beside the databases, not in them, readable by the owner alone. It is made where nothing was sealed yet;
 * one that is lost is never made anew, since what it sealed would be lost for good.
 * @param sealed a text that the key has to open; null where nothing was sealed yet
 */
export function openSecrets(folder: string, sealed: string | null): Secrets {
  const path = join(folder, 'secret.key');
  let check = sealed;
  let known: Buffer | null = null;
  if (check === null && !existsSync(path)) {
    writeFileSync(path, randomBytes(32).toString('base64'), { mode: 0o600, flag: 'wx' });
  }
  const key = (): Buffer => {
    if (known) return known;
    if (!existsSync(path)) throw new KeyError(`${path} is missing`);
    const read = Buffer.from(readFileSync(path, 'utf8'), 'base64');
    if (read.length !== 32) throw new KeyError(`${path} does not hold a key of 32 bytes`);
    if (check !== null) {
      try {
        openWith(read, check);
      } catch {
        throw new KeyError(`${path} does not open what was sealed`);
      }
    }
    known = read;
    return read;
  };
  return {
    seal(plain) {
      const iv = randomBytes(12);
      const cipher = createCipheriv('aes-256-gcm', key(), iv);
      const body = Buffer.concat([cipher.update(plain, 'utf8'), cipher.final()]);
      return Buffer.concat([iv, cipher.getAuthTag(), body]).toString('base64');
    },
    open: (text) => openWith(key(), text),
    trouble() {
      try {
        // The file may have gone since it was read: a restart would not find it.
        if (!existsSync(path)) known = null;
        key();
        return null;
      } catch (error) {
        return faultOf(error) ?? faultOf(new KeyError(String(error)));
      }
    },
    expect(text) {
      check = text;
    },
  };
}
