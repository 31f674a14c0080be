import type { Client, Report } from '@chronicon/core/contract';
import { ApiError } from '../../api/call.ts';

/** What every act on a whole report is given. */
export interface ActProps {
  report: Report;
  client: Client;
  /** Saves what is not saved yet; false where that could not be done. */
  settle: () => Promise<boolean>;
}

/** @throws ApiError where what was changed here is not with the server: what is made would be of an older draft */
export async function settleFirst(settle: ActProps['settle']): Promise<void> {
  if (await settle()) return;
  throw new ApiError(0, 'Your last changes aren’t saved yet. Try again once they are.', {});
}
