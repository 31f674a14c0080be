/** Addresses that hold a secret: what comes after these is nobody's to read. */
const SECRET = /^(\/api\/(?:drop|calendar)\/|\/unsubscribe\/(?:all\/)?)[^/?]+/;

/**
 * An address as logs may have it: without what opens something, and without its query, which may name people.
 *
 * @example shownPath('/api/calendar/c2VjcmV0.ics?x=1') // '/api/calendar/…'
 */
export const shownPath = (url: string): string => url.split('?')[0]!.replace(SECRET, '$1…');
