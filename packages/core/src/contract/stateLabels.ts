import type { EditionState } from '../edition/states.ts';

/** What people read for each state of an edition (VOCABULARY). */
export const STATE_LABELS: Record<EditionState, string> = {
  planned: 'Planned',
  collecting: 'Collecting data',
  review: 'Needs review',
  ready: 'Ready to send',
  sending: 'Sending',
  sent: 'Sent',
  'part-sent': 'Partly sent',
  held: 'On hold',
  skipped: 'Skipped',
  replaced: 'Replaced',
};
