import type { ScheduleInput } from '@chronicon/core/contract';

type Hours = ScheduleInput['patience'];

/** Hours that are offered: as many as a schedule may have. */
export const PATIENCE_HOURS: readonly Hours[] = [0, 1, 2, 3, 6, 12];

/** How long a run waits for figures, as a part of a sentence. */
export const patienceWords = (hours: Hours): string =>
  hours === 0 ? 'held if figures lack' : `waiting ${hours === 1 ? 'an hour' : `${hours} hours`} for late figures`;
