import { openServer, readConfig } from '@chronicon/server';
import { SCALED, scaledAgency } from '@chronicon/server/scale';

/** Makes an agency of so many clients in a fresh data folder: `npm run scale -- 1000 [FOLDER]`. */
const clients = Number(process.argv[2]);
if (!Number.isInteger(clients) || clients < 1) {
  console.error('npm run scale -- CLIENTS [FOLDER]');
  process.exit(2);
}
const data = process.argv[3] ?? `data/scale-${clients}`;
const api = await openServer(
  readConfig({ CHRONICON_DATA: data, CHRONICON_MODE: 'test', CHRONICON_LOG: 'warn', CHRONICON_NOTICES: 'off' }),
);
const began = performance.now();
await scaledAgency(api, { clients, schedules: 2, editions: 50 }, api.clock.now(), (done) => {
  process.stdout.write(`\r${done} of ${clients} clients`);
});
await api.shut();
console.log(`\nmade in ${((performance.now() - began) / 1000).toFixed(1)} s in ${data}`);
console.log(`Sign in as ${SCALED.email} with ${SCALED.password}.`);
