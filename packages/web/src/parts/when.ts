const utc = (date: string) => new Date(`${date}T00:00:00Z`);
const format = (options: Intl.DateTimeFormatOptions) =>
  new Intl.DateTimeFormat('en-GB', { timeZone: 'UTC', ...options });

const full = format({ weekday: 'long', day: 'numeric', month: 'long' });
const short = format({ weekday: 'short', day: 'numeric', month: 'short' });
const withYear = format({ weekday: 'short', day: 'numeric', month: 'short', year: 'numeric' });
const plain = format({ day: 'numeric', month: 'short', year: 'numeric' });
const moment = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short', hour: '2-digit', minute: '2-digit' });

/** Civil dates and instants for the interface, which is English. */
export const longDay = (date: string): string => full.format(utc(date));
export const shortDay = (date: string): string => short.format(utc(date));
export const dayWithYear = (date: string): string => withYear.format(utc(date));
export const plainDate = (date: string): string => plain.format(utc(date));
export const momentOf = (instant: string): string => moment.format(new Date(instant));

export const plural = (n: number, one: string, many = `${one}s`): string => `${n} ${n === 1 ? one : many}`;
