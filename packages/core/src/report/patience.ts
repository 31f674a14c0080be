import { z } from 'zod';
import { PATIENCE_HOURS } from './patienceHours.ts';

/** For how many hours after its time a run waits for figures that lack, before it is held. */
export const patienceSpec = z
  .number()
  .refine((n): n is (typeof PATIENCE_HOURS)[number] => (PATIENCE_HOURS as readonly number[]).includes(n), {
    message: `Choose one of ${PATIENCE_HOURS.slice(1).join(', ')} hours, or none.`,
  });
