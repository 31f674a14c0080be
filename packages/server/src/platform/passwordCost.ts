/** What it costs to hash a password once by scrypt (RFC 7914): whoever guesses pays it for each guess. */
export interface PasswordCost {
  N: number;
  r: number;
  p: number;
}

/** As OWASP's password storage advice has it: 128 MB. */
export const FULL_COST: PasswordCost = { N: 2 ** 17, r: 8, p: 1 };

/** For tests, of which hundreds sign in. */
export const CHEAP_COST: PasswordCost = { N: 2 ** 12, r: 8, p: 1 };
