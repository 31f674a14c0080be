import { readBounce } from '../mail/readBounce.ts';
import { subjectOf } from '../mail/subjectOf.ts';
import { faultOf } from '../store/faults.ts';
import { setMailAside } from '../store/unreadMails.ts';
import { takeBounce } from './bounces.ts';
import type { Tools } from './tools.ts';

/**
 * Reads a mail that came back to these deliveries and writes down what it says. One that cannot be read is set aside and
 * told on the Desk: it keeps no other from being read.
 * @throws what is wrong with the disk or the database: the mail is to be brought once more
 */
export async function takeReport(
  tools: Pick<Tools, 'store' | 'clock' | 'log'>,
  deliveries: readonly string[],
  raw: Buffer,
): Promise<void> {
  try {
    const statuses = await readBounce(raw);
    for (const id of deliveries) await takeBounce(tools, id, statuses);
  } catch (error) {
    if (faultOf(error)) throw error;
    tools.log.error({ err: error, deliveries }, 'a mail that came back could not be read');
    await setMailAside(tools.store, { at: tools.clock.now(), subject: subjectOf(raw), raw });
  }
}
