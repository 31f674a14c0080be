import { killAtRandom, prepare, restoreCopy, seeded, stopOneOfTwo, sufferMailServer, type Tally } from './crashRun.ts';

/** The long proof of what is promised of mails: `npm run crash`, optionally with a seed. Prints what arrived. */
const seed = Number(process.argv[2] ?? 8);
let failed = false;

function print(t: Tally): void {
  const bad = t.arrived !== t.wanted || t.unlike > 0;
  failed ||= bad;
  console.log(
    `${bad ? 'FAILED ' : ''}${t.what}: ${t.arrived} of ${t.wanted} mails arrived, ${t.repeats} repeated under the same Message-ID, ${t.unlike} with other bytes${t.kills > 0 ? `, ${t.kills} kills` : ''}`,
  );
}

const p = await prepare({ editions: 30, readers: 3 });
try {
  console.log(`30 editions x 3 readers, seed ${seed}`);
  print(await killAtRandom(p, 60, seeded(seed)));
  print(await stopOneOfTwo(p, 130, 4));
  print(await restoreCopy(p));
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
