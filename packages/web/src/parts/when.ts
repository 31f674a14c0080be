const utc = (date: string) => new Date(`${date}T00:00:00Z`);
const format = (options: Intl.DateTimeFormatOptions) =>
  new Intl.DateTimeFormat('en-GB', { timeZone: 'UTC', ...options });

const full = format({ weekday: 'long', day: 'numeric', month: 'long' });
const short = format({ weekday: 'short', day: 'numeric', month: 'short' });
const withYear = format({ weekday: 'short', day: 'numeric', month: 'short', year: 'numeric' });
const dayMonth = format({ day: 'numeric', month: 'short' });
const month = format({ month: 'long', year: 'numeric' });
const plain = format({ day: 'numeric', month: 'short', year: 'numeric' });
const moments = new Map<string, Intl.DateTimeFormat>();

function momentFormat(zone: string): Intl.DateTimeFormat {
  const found =
    moments.get(zone) ??
    new Intl.DateTimeFormat('en-GB', {
      timeZone: zone,
      weekday: 'short',
      day: 'numeric',
      month: 'short',
      hour: '2-digit',
      minute: '2-digit',
    });
  moments.set(zone, found);
  return found;
}

/** Civil dates and instants for the interface, which is English. */
export const longDay = (date: string): string => full.format(utc(date));
export const shortDay = (date: string): string => short.format(utc(date));
/** `Fri 20 Nov 2026`: without the comma that the language sets after the weekday only where the year follows. */
export const dayWithYear = (date: string): string => withYear.format(utc(date)).replace(',', '');
/** `5 Sept – 11 Sept`, of dates that stand beside others; with their year where that is another one. */
export function shortDates({ from, to }: { from: string; to: string }, beside: string): string {
  const last = to.slice(0, 4) === beside.slice(0, 4) ? dayMonth : plain;
  return from === to ? last.format(utc(from)) : `${dayMonth.format(utc(from))} – ${last.format(utc(to))}`;
}
/** `October 2026`, of a date or of a month alone. */
export const monthOf = (date: string): string => month.format(utc(`${date.slice(0, 7)}-01`));
export const plainDate = (date: string): string => plain.format(utc(date));
let agencyZone = 'UTC';

/** The one clock of all screens is the agency's; given with the session, named in the bar. */
export function setZone(zone: string): void {
  agencyZone = zone;
}

export const momentIn = (instant: string, zone: string): string => momentFormat(zone).format(new Date(instant));
export const momentOf = (instant: string): string => momentIn(instant, agencyZone);
/** The same with its year, for lists that go far back. */
export const momentWithYear = (instant: string): string => {
  const [weekday, ...rest] = momentOf(instant).split(', ');
  const year = new Intl.DateTimeFormat('en-GB', { timeZone: agencyZone, year: 'numeric' }).format(new Date(instant));
  return rest.length > 1 ? `${weekday}, ${rest[0]} ${year}, ${rest[1]}` : `${weekday} ${year}, ${rest[0]}`;
};
/** "Europe/London" as people say it. */
export const zoneWords = (zone: string): string => `${zone.split('/').at(-1)!.replaceAll('_', ' ')} time`;

/** A time of the clock so many whole hours later, with the day where it is another one. */
export function clockAfter(time: string, hours: number): string {
  const [h, m] = time.split(':').map(Number) as [number, number];
  const later = h + hours;
  return `${String(later % 24).padStart(2, '0')}:${String(m).padStart(2, '0')}${later >= 24 ? ' the next day' : ''}`;
}

export const plural = (n: number, one: string, many = `${one}s`): string => `${n} ${n === 1 ? one : many}`;
