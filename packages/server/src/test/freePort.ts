import { createServer } from 'node:net';

/**
 * Ports below those that systems hand out by themselves (RFC 6335 §6 has those from 49152 on; Linux from 32768): none
 * of them is taken by somebody's outgoing connection between being found free and being listened at.
 */
const FIRST = 20_000;

/** How many ports each process that tests has for itself. */
const EACH = 1_000;

let next = 0;

const isFree = (port: number) =>
  new Promise<boolean>((resolve) => {
    const probe = createServer();
    probe.once('error', () => resolve(false));
    probe.listen(port, '127.0.0.1', () => probe.close(() => resolve(true)));
  });

/** A port of this machine at which nobody listens, and that no other call in this run of tests is given. */
export async function freePort(): Promise<number> {
  // Of the processes that run tests side by side each has a number; what runs alone has none.
  const process_ = Number(process.env.VITEST_POOL_ID ?? 0) % 12;
  for (let tries = 0; tries < EACH; tries++) {
    const port = FIRST + process_ * EACH + (next++ % EACH);
    if (await isFree(port)) return port;
  }
  throw new Error('no port is free');
}
