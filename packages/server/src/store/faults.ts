/** A fault of what the server stands on, told from faults of our own: passing ones are tried again by themselves. */
export interface Fault {
  passing: boolean;
  cause: 'disk' | 'database' | 'key' | 'busy';
  reason: string;
  mend: string;
}

const FULL: Fault = {
  passing: true,
  cause: 'disk',
  reason: 'The disk is full.',
  mend: 'Free up disk space. Work resumes automatically.',
};
const LOCKED_UP: Fault = {
  passing: true,
  cause: 'disk',
  reason: 'The data folder cannot be written.',
  mend: 'Let the server’s user write the data folder. Work goes on by itself.',
};
const DAMAGED: Fault = {
  passing: false,
  cause: 'database',
  reason: 'A database file is damaged.',
  mend: 'Stop the server and put the databases back from the last good copy.',
};
const BUSY: Fault = {
  passing: true,
  cause: 'busy',
  reason: 'Another server on this data folder holds the database.',
  mend: 'Nothing: it goes on as soon as the other one lets go.',
};

const KEYLESS: Fault = {
  passing: false,
  cause: 'key',
  reason: 'The key that opens the stored credentials is missing, or is not the right one.',
  mend: 'Restore secret.key from backup. It can’t be regenerated.',
};

/** The key of the stored credentials is not there, or opens nothing. */
export class KeyError extends Error {
  readonly code = 'KEY';
}

const BY_CODE: readonly (readonly [RegExp, Fault])[] = [
  [/^(ENOSPC|EDQUOT|SQLITE_FULL)$/, FULL],
  [/^(EROFS|EACCES|EPERM|SQLITE_READONLY.*|SQLITE_CANTOPEN.*|SQLITE_IOERR.*|EIO|EMFILE|ENFILE)$/, LOCKED_UP],
  [/^(SQLITE_CORRUPT.*|SQLITE_NOTADB)$/, DAMAGED],
  [/^SQLITE_(BUSY|LOCKED).*$/, BUSY],
  [/^KEY$/, KEYLESS],
];

/** What the server stands on that failed; null for any other error. */
export function faultOf(error: unknown): Fault | null {
  for (let e = error as { code?: unknown; cause?: unknown } | undefined; e; e = e.cause as typeof e) {
    const code = String(e.code ?? '');
    const found = BY_CODE.find(([pattern]) => pattern.test(code));
    if (found) return found[1];
  }
  return null;
}
