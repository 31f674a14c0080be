import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { linkAddress, makeLink } from './access/links.ts';
import { createClockAt } from './platform/clock.ts';
import { readConfig } from './platform/config.ts';
import { record } from './store/ledger.ts';
import { memberByEmail, owners } from './store/members.ts';
import { inTransaction, openStore } from './store/store.ts';

/** Prints a one-time address for an owner who is locked out: whoever can run this on the machine may let them in. */
const config = readConfig(process.env);
if (!existsSync(join(config.data, 'chronicon.db'))) {
  console.error(`There is no agency in ${config.data}. Name its data folder in CHRONICON_DATA.`);
  process.exit(1);
}
const store = await openStore(config.data);
try {
  const email = process.argv[2];
  const known = await owners(store);
  const owner = email === undefined ? undefined : await memberByEmail(store, email);
  if (!owner || !known.some((o) => o.id === owner.id)) {
    console.error(
      email === undefined ? 'Name the owner by their email address:' : `No owner has the address ${email}. There are:`,
    );
    for (const o of known) console.error(`  ${o.name}, ${o.email}`);
    process.exitCode = 1;
  } else {
    const at = createClockAt(null).now();
    const secret = await inTransaction(store, async (tx) => {
      await record(tx, { at, actor: 'scheduler', action: 'owner.let-in', subject: owner.id });
      return makeLink(tx, owner.id, 'let-in', at);
    });
    const home = config.url ?? `http://localhost:${config.port}`;
    console.log(`${owner.name} sets a new password within an hour, once, at ${linkAddress(home, secret)}`);
    console.log('Their second factor, if they have one, is taken away by that; all their sessions end.');
  }
} finally {
  await store.destroy();
}
