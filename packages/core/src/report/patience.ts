import { z } from 'zod';

/** Hours for which a schedule may wait after its time for figures that are late; none: it is held there and then. */
export const PATIENCE_HOURS = [0, 1, 2, 3, 6, 12] as const;

/** For how many hours after its time a run waits for figures that lack, before it is held. */
export const patienceSpec = z
  .number()
  .refine((n): n is (typeof PATIENCE_HOURS)[number] => (PATIENCE_HOURS as readonly number[]).includes(n), {
    message: `Choose one of ${PATIENCE_HOURS.slice(1).join(', ')} hours, or none.`,
  });
