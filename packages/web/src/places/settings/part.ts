import type { Reply } from '../../api/call.ts';

/** What each part of the settings is shown with. */
export interface PartProps {
  data: Reply<'GET /api/agency'>;
  /** Owners change what is set; managers see it. */
  mayChange: boolean;
}
