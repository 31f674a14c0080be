/** Minutes after which a troubled feed is asked again: 5, 10, 20 … up to six hours. */
const base = (failures: number): number => Math.min(360, 5 * 2 ** Math.min(10, Math.max(0, failures - 1)));

/**
 * Minutes to wait before a service is asked again. What it says itself (`Retry-After`, seconds) is never undercut;
 * on top comes up to a quarter by chance, so that many feeds do not come back in the same moment.
 * @param failures times in a row that it failed, at least 1
 * @param chance from 0 up to 1
 */
export function pauseBefore(failures: number, retryAfter: number | null, chance: number): number {
  const minutes = retryAfter === null ? base(failures) : Math.max(1, retryAfter / 60);
  return minutes * (1 + chance / 4);
}
