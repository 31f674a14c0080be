/** Whom a reader may ask about a report. */
export interface Manager {
  name: string;
  email: string;
}
