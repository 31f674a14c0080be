import { bounceMeanwhile, jumpClocks, replaceMeanwhile, throwAtEach } from './crashHarder.ts';
import {
  killAtRandom,
  prepare,
  restoreCopy,
  seeded,
  stopOneOfTwo,
  sufferMailServer,
  type Tally,
  wordsOf,
} from './crashRun.ts';

/** The long proof of what is promised of mails: `npm run crash`, optionally with a seed. Prints what arrived. */
const seed = Number(process.argv[2] ?? 8);
let failed = false;

const KILLS = 200;

function print(t: Tally): void {
  const bad = t.arrived !== t.wanted || t.unlike > 0 || t.unexplained > 0;
  failed ||= bad;
  console.log(`${bad ? 'FAILED ' : ''}${wordsOf(t)}`);
}

const p = await prepare({ editions: 50, readers: 3 });
try {
  console.log(`50 editions x 3 readers, seed ${seed}`);
  print(await killAtRandom(p, KILLS, seeded(seed)));
  print(await stopOneOfTwo(p, 130, 4));
  print(await restoreCopy(p));
  print(await jumpClocks(p, 40, seeded(seed + 1)));
  print(await bounceMeanwhile(p, 20, seeded(seed + 2)));
  print(await replaceMeanwhile(p));
  const few = await prepare({ editions: 6, readers: 3 });
  print(await throwAtEach(few).finally(() => few.close()));
  for (const fault of [
    'down',
    'silent',
    'closed',
    'refuse-sender',
    'busy',
    'slow',
    'drop-at-data',
    'drop-after-data',
  ] as const) {
    print(await sufferMailServer(p, fault));
  }
} finally {
  await p.close();
}
process.exitCode = failed ? 1 : 0;
