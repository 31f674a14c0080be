import { isUtf8 } from 'node:buffer';
import type { Encoding } from '@chronicon/core/feeds';
import { analyse } from 'chardet';

/** True when all bytes are UTF-8; a character cut off by the sample's end does not count. */
const isWholeUtf8 = (bytes: Uint8Array): boolean =>
  [0, 1, 2, 3].some((cut) => cut <= bytes.length && isUtf8(bytes.subarray(0, bytes.length - cut)));

/** What the detector's names are to us: of two that differ in a few signs, the one that has more. */
const DETECTED: Record<string, Encoding> = {
  'ISO-8859-1': 'windows-1252',
  'windows-1252': 'windows-1252',
  'ISO-8859-2': 'iso-8859-2',
  'windows-1250': 'windows-1250',
  'windows-1251': 'windows-1251',
  'KOI8-R': 'koi8-r',
};

/** Each word once: tables repeat a few of them thousands of times, which says nothing of a language. */
const distinctWords = (bytes: Uint8Array): Buffer =>
  Buffer.from(
    [
      ...new Set(
        Buffer.from(bytes)
          .toString('latin1')
          .split(/[\s,;|\t"]+/),
      ),
    ].join(' '),
    'latin1',
  );

/**
 * The encoding of a text by its first bytes: a byte order mark tells it; zeros at every other byte are UTF-16; what is
 * UTF-8 throughout is that. Anything else is judged by which letters follow which in the languages of Europe.
 */
export function guessEncoding(bytes: Uint8Array): Encoding {
  const [a, b] = bytes;
  if (a === 0xff && b === 0xfe) return 'utf-16le';
  if (a === 0xfe && b === 0xff) return 'utf-16be';
  const zeros = [0, 0];
  for (let i = 0; i < bytes.length; i++) if (bytes[i] === 0) zeros[i % 2]!++;
  if (zeros[1]! > bytes.length / 4) return 'utf-16le';
  if (zeros[0]! > bytes.length / 4) return 'utf-16be';
  if (isWholeUtf8(bytes)) return 'utf-8';
  const known = analyse(distinctWords(bytes)).find((m) => m.name in DETECTED);
  return known ? DETECTED[known.name]! : 'windows-1252';
}
