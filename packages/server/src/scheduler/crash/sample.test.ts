import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import {
  killAtRandom,
  type Prepared,
  prepare,
  restoreCopy,
  seeded,
  stopOneOfTwo,
  type Tally,
  Trial,
  wordsOf,
} from '../../test/crashRun.ts';

let p: Prepared;

beforeAll(async () => {
  p = await prepare({ editions: 4, readers: 3 });
});
afterAll(() => p.close());

/** The longer proofs: `npm run proofs` has them all. */
const isLong = process.env.CHRONICON_PROOFS === 'all';

/** Nothing is lost, the same mail is the same bytes, and none comes again that was not being handed over. */
const holds = (t: Tally) => {
  console.log(wordsOf(t));
  expect(t).toMatchObject({ arrived: t.wanted, unlike: 0, unexplained: 0 });
};

describe('a sample of the long proof', () => {
  it('kill -9 at 4 random moments of 4 editions to 3 readers loses nothing', async () => {
    const t = await killAtRandom(p, 4, seeded(1));
    holds(t);
    expect(t.repeats).toBeLessThanOrEqual(t.begun);
  });

  it.runIf(isLong)('kill -9 at 20 random moments of 50 editions to 3 readers loses nothing', async () => {
    const many = await prepare({ editions: 50, readers: 3 });
    try {
      const t = await killAtRandom(many, 20, seeded(1));
      holds(t);
      expect(t.repeats).toBeLessThanOrEqual(t.begun);
    } finally {
      await many.close();
    }
  });

  it.runIf(isLong)(
    'two servers, one of them stopped while it hands mails over: the other finishes, nothing is lost',
    async () => {
      const t = await stopOneOfTwo(p, 8, 2);
      holds(t);
      // What the stopped one had in hand goes again; on a starved machine the other may be taken for dead for a moment, too.
      expect(t.repeats).toBeLessThanOrEqual(2 * t.wanted);
    },
  );

  it('a restored copy repeats the same mails under the same ids', async () => {
    const t = await restoreCopy(p);
    holds(t);
    expect(t.repeats).toBe(t.wanted);
  });

  it('an error that nobody caught: the server ends in order, begins anew, and goes on', async () => {
    p.fixture.simulators.mails.clear();
    const trial = new Trial(p);
    try {
      const child = await trial.launch(undefined, {
        CHRONICON_CRASH_AT: 'throw:draw.before-files',
        CHRONICON_LOG: 'error',
      });
      await trial.untilDone(60);
      expect(child.exitCode).toBeNull();
      expect(trial.log).toContain('an uncaught error: the server restarts');
      expect(trial.log.match(/Chronicon at/g)).toHaveLength(2);
    } finally {
      await trial.end();
    }
    expect(p.fixture.simulators.mails.list()).toHaveLength(12);
  });
});

describe('the log', () => {
  it('never holds the key of a file drop', async () => {
    const trial = new Trial(p);
    try {
      await trial.launch(undefined, { CHRONICON_LOG: 'info' });
      const response = await fetch(`${trial.url}/api/drop/very-secret-key/october.csv`, { method: 'PUT', body: 'a' });
      expect(response.status).toBe(401);
      await fetch(`${trial.url}/api/drop/very-secret-key/%ff`, { method: 'PUT', body: 'a' });
      for (let i = 0; i < 100 && !trial.log.includes('/api/drop/'); i++) await new Promise((r) => setTimeout(r, 50));
      expect(trial.log).toContain('/api/drop/');
      expect(trial.log).not.toContain('very-secret-key');
    } finally {
      await trial.end();
    }
  });
});
