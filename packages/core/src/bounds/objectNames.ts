/**
 * Whether every object answers to this name of its own accord, as to `constructor`: such a name is no key of metrics,
 * dimensions or blocks, and no door takes one.
 *
 * @example isObjectName('toString') // true
 * @example isObjectName('visits')   // false
 */
export const isObjectName = (name: string): boolean => name in Object.prototype;

/** The value that an object has of its own under a name that may be any text. */
export const ownOf = <T>(of: Readonly<Record<string, T>> | undefined, name: string): T | undefined =>
  of && Object.hasOwn(of, name) ? of[name] : undefined;
