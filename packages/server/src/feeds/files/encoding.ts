import type { Encoding } from '@chronicon/core/feeds';

/** True when all bytes are UTF-8; a character cut off by the sample's end does not count. */
function isUtf8(bytes: Uint8Array): boolean {
  for (let cut = 0; cut < 4; cut++) {
    try {
      new TextDecoder('utf-8', { fatal: true }).decode(bytes.subarray(0, bytes.length - cut));
      return true;
    } catch {
      // Once more without the last byte: it may begin a character.
    }
  }
  return false;
}

/**
 * The encoding of a text by its first bytes: a byte order mark tells it; zeros at every other byte are UTF-16; what is
 * UTF-8 throughout is that; anything else is taken for the most common one of western Europe.
 */
export function guessEncoding(bytes: Uint8Array): Encoding {
  const [a, b] = bytes;
  if (a === 0xff && b === 0xfe) return 'utf-16le';
  if (a === 0xfe && b === 0xff) return 'utf-16be';
  const zeros = [0, 0];
  for (let i = 0; i < bytes.length; i++) if (bytes[i] === 0) zeros[i % 2]!++;
  if (zeros[1]! > bytes.length / 4) return 'utf-16le';
  if (zeros[0]! > bytes.length / 4) return 'utf-16be';
  return isUtf8(bytes) ? 'utf-8' : 'windows-1252';
}
