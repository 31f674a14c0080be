import { forgetLeftFile, isNamed, leftFiles } from '../store/fileRegister.ts';
import type { Tools } from './tools.ts';

/** Milliseconds by the machine's clock: what was written lately may wait for the row that will point to it. */
const LEFT_ALONE = 7 * 24 * 60 * 60 * 1000;

/**
 * Deletes old drawings of editions that were drawn again, and the pictures of their mails. Of a file that the database does not know,
 * nothing is concluded: it may be an older copy that was put back, and the file one that was sent.
 * @returns how many were taken away
 */
export async function sweepLeftFiles({
  store,
  files,
  clock,
  log,
}: Pick<Tools, 'store' | 'files' | 'clock' | 'log'>): Promise<number> {
  let swept = 0;
  for (const hash of await leftFiles(store)) {
    const written = await files.writtenAt(hash);
    if (written !== null && written > clock.machine() - LEFT_ALONE) continue;
    // Drawn the same once more, or brought as something else, it is somebody's again.
    const isKept = await isNamed(store, hash);
    if (!isKept) await files.remove(hash);
    await forgetLeftFile(store, hash);
    if (!isKept) swept++;
  }
  if (swept > 0) log.info({ files: swept }, 'drawings that no edition points to any more were taken away');
  return swept;
}
