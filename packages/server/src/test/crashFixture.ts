import type { ChildProcess } from 'node:child_process';
import { afterEach, beforeEach, expect, it } from 'vitest';
import type { CrashPoint } from '../platform/crashPoints.ts';
import { editionsOf, type Furnished, openFurnishedFixture, scheduleFor, type TestFixture } from './harness.ts';
import { type ServerProcess, startProcess } from './process.ts';

/** A furnished folder with a schedule for its client, on which real processes are started and killed. */
export interface CrashBed {
  fixture: TestFixture;
  f: Furnished;
  launch(at: string, crashAt?: CrashPoint): Promise<ServerProcess>;
}

/** Such a fixture for each test of the file. Everything is furnished by a server in this process, which makes room then. */
export function useCrashBed(): CrashBed {
  const children: ChildProcess[] = [];
  const own: Partial<CrashBed> = {
    async launch(at, crashAt) {
      const server = await startProcess(own.fixture!.config, at, {
        CHRONICON_PATIENCE: '2',
        CHRONICON_CRASH_AT: crashAt,
      });
      children.push(server.child);
      return server;
    },
  };
  beforeEach(async () => {
    Object.assign(own, await openFurnishedFixture('2026-11-03T03:00:00Z'));
    const { fixture, f } = own as CrashBed;
    await fixture.owner.ask('POST /api/clients/:client/schedules', {
      params: { client: f.client },
      body: scheduleFor(f),
    });
    await fixture.stop();
  });
  afterEach(async () => {
    for (const child of children.splice(0)) child.kill('SIGKILL');
    await own.fixture!.close();
  });
  return own as CrashBed;
}

/** Asks until it is so; a bound keeps a fault from hanging the test. */
export async function until<T>(what: string, done: () => Promise<T | null>): Promise<T> {
  for (let i = 0; i < 2_400; i++) {
    const found = await done();
    if (found !== null) return found;
    await new Promise((r) => setTimeout(r, 100));
  }
  throw new Error(`${what}: it never came to that`);
}

/** The point of each phase at which most can go wrong; the others are killed at by `npm run proofs`. */
const IN_EVERY_RUN: readonly CrashPoint[] = [
  'plan.after-editions',
  'draw.after-files',
  'send.after-accepted-by-server',
  'sync.after-slice',
];

/** Whether all of the long proofs are asked for, or what every run of tests has time for. */
export const ALL_PROOFS = process.env.CHRONICON_PROOFS === 'all';

/** Kills the process at each of these points, and asks for one edition that the reader has once after a restart. */
export function diesAndGoesOn(own: CrashBed, points: readonly CrashPoint[]): void {
  it.each(points.filter((p) => ALL_PROOFS || IN_EVERY_RUN.includes(p)))(
    'at %s: after a restart there is one edition, and the reader has it once',
    async (point) => {
      const { fixture, f } = own;
      // Due at 08:00 London time: from planning to sent, all in one go.
      const first = await own.launch('2026-11-03T08:00:30Z', point);
      expect(await first.ended).toBe('SIGKILL');
      await fixture.restart({ today: '2026-11-03T08:01:30Z' });
      const editions = await until('the edition is sent', async () => {
        const all = await editionsOf(fixture, f.client);
        return all.length > 0 && all.every((e) => e.state === 'sent') ? all : null;
      });
      expect(editions).toHaveLength(1);
      expect(editions[0]!.deliveries).toMatchObject([{ state: 'accepted' }]);
      const mails = fixture.simulators.mails.list();
      expect(mails).toHaveLength(1);
      // Where the server died after the mail was taken but before it was written down, it is sent again under the
      // same Message-ID, and the mailbox knows it as the same.
      expect(mails[0]!.times).toBe(point === 'send.after-accepted-by-server' ? 2 : 1);
      expect(mails[0]!.attachments).toHaveLength(1);
    },
  );
}
