import type { ScheduleInput } from '@chronicon/core/contract';

/** How long a run waits for figures, as a part of a sentence. */
export const patienceWords = (hours: ScheduleInput['patience']): string =>
  hours === 0 ? 'held if data is missing' : `waiting ${hours === 1 ? 'an hour' : `${hours} hours`} for late data`;
