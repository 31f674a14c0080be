/**
 * Every place on the way from due to sent, and from fetched to kept, at which a process may die with something written and something not.
 * Tests kill the real process at each of them; elsewhere they cost a comparison.
 */
export const CRASH_POINTS = [
  'plan.before-editions',
  'plan.after-editions',
  'collect.before-move',
  'collect.after-move',
  'draw.before-files',
  'draw.after-files',
  'draw.after-ready',
  'mail.before-messages',
  'mail.after-messages',
  'send.before-claim',
  'send.after-claim',
  'send.after-accepted-by-server',
  'send.after-accepted-in-store',
  'sync.before-slice',
  'sync.after-slice',
  'sync.before-told',
] as const;

export type CrashPoint = (typeof CRASH_POINTS)[number];

let thrown = false;

/**
 * Kills the process, without any farewell, when it passes the named point; with `throw:` before the point's name, an
 * error is thrown there once that nobody can catch.
 */
export const crasher =
  (crashAt: string | null) =>
  (point: CrashPoint): void => {
    if (crashAt === point) process.kill(process.pid, 'SIGKILL');
    if (crashAt === `throw:${point}` && !thrown) {
      thrown = true;
      setImmediate(() => {
        throw new Error('an error that was planted');
      });
    }
  };
