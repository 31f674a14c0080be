/**
 * Characters, where a password stands alone, and where a second factor stands beside it (NIST SP 800-63B-4 §3.1.1.2);
 * there is no other rule of what it consists of.
 */
export const LEAST = { alone: 15, beside: 8 } as const;
const MOST = 200;
/** Powers of ten of guesses that one must withstand who knows which passwords are common and whose it is. */
const WITHSTANDS = { alone: 10, beside: 8 };
/** Characters of a long one that are judged: judging takes the main thread, and grows faster than the length. */
const JUDGED = 32;

type Judge = (password: string, known: readonly string[]) => number;
let judge: Promise<Judge> | null = null;

/** Lists of common passwords, names and words: large, and wanted seldom. */
async function loadJudge(): Promise<Judge> {
  const [{ ZxcvbnFactory }, common] = await Promise.all([
    import('@zxcvbn-ts/core'),
    import('@zxcvbn-ts/language-common'),
  ]);
  const known = new ZxcvbnFactory({ dictionary: common.dictionary, graphs: common.adjacencyGraphs });
  return (password, own) => known.check(password, [...own]).guessesLog10;
}

/**
 * What is wrong with a password in a sentence; null where it may be taken.
 * @param own names and addresses that whoever guesses would try first
 */
export async function passwordFault(
  password: string,
  own: readonly string[],
  least: number = LEAST.alone,
): Promise<string | null> {
  const length = [...password.normalize('NFC')].length;
  if (length < least) return `Use at least ${least} characters, e.g. a few unrelated words.`;
  if (length > MOST) return `Maximum ${MOST} characters.`;
  judge ??= loadJudge();
  const parts = own.flatMap((text) => [text, ...text.split(/[^\p{L}\p{N}]+/u)]).filter((text) => text.length > 2);
  const guesses = (await judge)(password.slice(0, JUDGED), parts);
  return guesses >= (least < LEAST.alone ? WITHSTANDS.beside : WITHSTANDS.alone)
    ? null
    : 'Too easy to guess. Use a few unrelated words.';
}
