import type { ChildProcess } from 'node:child_process';
import { setTimeout as sleep } from 'node:timers/promises';
import { sendBack } from '@chronicon/simulators';
import { CRASH_POINTS } from '../platform/crashPoints.ts';
import { bounceToken } from '../store/mailTokens.ts';
import { type Begun, BOUNCES, DUE, liveAWhile, nameOf, type Prepared, type Tally, Trial, tally } from './crashRun.ts';
import { freePort } from './freePort.ts';
import { OWNER, visit } from './harness.ts';

/** What else may happen to mails on their way: clocks that jump, errors, mails that come back, readers who are replaced. */

const HOUR = 3_600_000;
const instant = (ms: number): string => new Date(ms).toISOString();

async function kill(child: ChildProcess): Promise<void> {
  const dead = new Promise((r) => child.once('exit', r));
  child.kill('SIGKILL');
  await dead;
}

/** Kill -9 at random moments, each server with its clock elsewhere: from two hours before the time to eight after it. */
export async function jumpClocks(p: Prepared, jumps: number, random: () => number): Promise<Tally> {
  p.fixture.simulators.mails.clear();
  const begun: Begun = new Map();
  const trial = new Trial(p);
  try {
    for (let n = 0; n < jumps && !trial.isDone(); n++) {
      const child = await trial.launch(instant(Date.parse(DUE) + (random() * 10 - 2) * HOUR));
      await liveAWhile(p, random);
      await kill(child);
      for (const mail of trial.handedOver()) begun.set(mail, (begun.get(mail) ?? 0) + 1);
    }
    await trial.launch(instant(Date.parse(DUE) + 9 * HOUR));
    await trial.untilDone(120);
  } finally {
    await trial.end();
  }
  return tally(p, `clocks that jump at each of ${jumps} kills`, jumps, begun);
}

/** An error that nobody catches at each point of the way: the server ends in order, begins anew, and goes on. */
export async function throwAtEach(p: Prepared): Promise<Tally> {
  const points = CRASH_POINTS.filter((point) => !point.startsWith('sync.'));
  const all: Tally = { ...tally(p, `an error thrown at each of ${points.length} points`, 0), wanted: 0, arrived: 0 };
  Object.assign(all, { repeats: 0, unlike: 0 });
  for (const point of points) {
    p.fixture.simulators.mails.clear();
    const trial = new Trial(p);
    try {
      const child = await trial.launch(DUE, { CHRONICON_CRASH_AT: `throw:${point}` });
      await trial.untilDone(20).catch(() => undefined);
      if (child.exitCode !== null) throw new Error(`the server ended for good at ${point}`);
      if (!trial.isDone()) {
        // Of mails that were being handed over nobody knows: they are tried again half an hour later.
        const ended = new Promise((r) => child.once('exit', r));
        child.kill('SIGTERM');
        await ended;
        await trial.launch(instant(Date.parse(DUE) + HOUR));
        await trial.untilDone(60);
      }
    } finally {
      await trial.end();
    }
    const one = tally(p, '', 0);
    for (const key of ['wanted', 'arrived', 'repeats', 'unlike'] as const) all[key] += one[key];
  }
  return all;
}

/**
 * Mails come back while they are queued, handed over, in doubt and accepted, and the server is killed meanwhile. Each that the
 * server has heard of is known as one that came back at last; every other one arrives.
 * @throws Error for one that was heard of and forgotten
 */
export async function bounceMeanwhile(p: Prepared, kills: number, random: () => number): Promise<Tally> {
  p.fixture.simulators.mails.clear();
  const begun: Begun = new Map();
  const heard = new Map<string, string>();
  const trial = new Trial(p);
  let port = 0;
  let going = true;
  const goOnComingBack = async () => {
    while (going) {
      await sleep(20);
      const left = trial.deliveries().filter((d) => !heard.has(d.id) && d.state !== 'bounced');
      const one = left[Math.floor(random() * left.length)];
      if (!one || port === 0) continue;
      const to = BOUNCES.replace('@', `+${bounceToken(p.tokens, one.id)}@`);
      const report = { to, recipient: one.to, status: '5.2.2', raw: Buffer.from('Subject: x\r\n\r\n') };
      // One that nobody took, as the server was dead, is told again by whoever holds it.
      const isTaken = await sendBack(port, report).then(
        () => true,
        () => false,
      );
      if (isTaken) heard.set(one.id, one.state);
    }
  };
  const back = goOnComingBack();
  try {
    for (let n = 0; n < kills; n++) {
      port = await freePort();
      const child = await trial.launch(DUE, { CHRONICON_BOUNCE_PORT: String(port) });
      await liveAWhile(p, random);
      await kill(child);
      for (const mail of trial.handedOver()) begun.set(mail, (begun.get(mail) ?? 0) + 1);
    }
    port = await freePort();
    await trial.launch(DUE, { CHRONICON_BOUNCE_PORT: String(port) });
    await trial.untilSettled(120);
    going = false;
    await back;
    const now = trial.deliveries();
    const forgotten = now.filter((d) => heard.has(d.id) && d.state !== 'bounced');
    if (forgotten.length > 0) throw new Error(`came back and forgotten: ${JSON.stringify(forgotten)}`);
    const states = [...new Set(heard.values())].sort().join(', ');
    const t = tally(p, `${heard.size} mails come back while they are ${states}`, kills, begun);
    // What came back before it was handed over is not handed over any more.
    const came = new Set(p.fixture.simulators.mails.list().map(nameOf));
    return { ...t, wanted: now.filter((d) => came.has(nameOf(d)) || d.state !== 'bounced').length };
  } finally {
    going = false;
    await back.catch(() => undefined);
    await trial.end();
  }
}

const NEW_READER = 'olga@tarnbeck.example';

/**
 * A reader is replaced everywhere while mails go out: of every edition one of the two has the mail, and both only where the
 * act said that it may have been sent already.
 * @throws Error for an edition of which neither has it, or of which both have it unsaid
 */
export async function replaceMeanwhile(p: Prepared): Promise<Tally> {
  const { smtp, mails } = p.fixture.simulators;
  mails.clear();
  await smtp.setFault('slow');
  smtp.delay = 0.4;
  const trial = new Trial(p);
  try {
    await trial.launch();
    while (mails.list().length < 5) await sleep(20);
    const owner = await visit(trial.url, OWNER);
    const who = { firstName: 'Olga', lastName: 'Kell', email: NEW_READER };
    const act = { do: 'replace', from: 'r1@tarnbeck.example', who, left: true, outside: false };
    const body = { schedules: null, act };
    const { seen } = (await owner.ask('POST /api/schedules/many', { body })).body;
    const done = await owner.ask('POST /api/schedules/many', { body: { ...body, seen } });
    if (done.status !== 200) throw new Error(`the act was refused: ${JSON.stringify(done.body)}`);
    await trial.untilSettled(240);
    const came = new Set(mails.list().map(nameOf));
    const byEdition = new Map<string, string[]>();
    for (const d of trial.deliveries().filter((x) => came.has(nameOf(x)) && [NEW_READER, act.from].includes(x.to)))
      byEdition.set(d.edition, [...(byEdition.get(d.edition) ?? []), d.to]);
    const readers = [...byEdition.values()];
    if (readers.length < p.size.editions)
      throw new Error(`${p.size.editions - readers.length} editions reached neither`);
    const both = readers.filter((r) => r.length > 1).length;
    if (both > done.body.late.length) throw new Error(`${both} reached both, ${done.body.late.length} were named`);
    const toOld = readers.filter((r) => r.includes(act.from)).length;
    return tally(p, `a reader replaced while mails go: ${toOld} had gone to the one before`, 0);
  } finally {
    await trial.end();
    await smtp.setFault('none');
  }
}
