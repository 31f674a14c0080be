const DAY = 86_400_000;
const at = (date: string): number => Date.parse(`${date}T00:00:00Z`);

/** `date` moved by so many days. */
export const daysAfter = (date: string, days: number): string =>
  new Date(at(date) + days * DAY).toISOString().slice(0, 10);

/** Days from one date to another; negative where that lies before. */
export const daysBetween = (from: string, to: string): number => Math.round((at(to) - at(from)) / DAY);

export const weekdayLetter = (date: string): string => 'SMTWTFS'[new Date(at(date)).getUTCDay()]!;
export const dayOfMonth = (date: string): string => String(Number(date.slice(8, 10)));
