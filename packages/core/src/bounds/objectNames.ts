/**
 * Whether every object has a member of this name, as `constructor` is one. Such a name cannot be the key of a metric, a
 * dimension or a block: looked up in a record, it would find a function.
 *
 * @example isObjectName('toString') // true
 * @example isObjectName('visits')   // false
 */
export const isObjectName = (name: string): boolean => name in Object.prototype;

/** The value that an object has of its own under a name that may be any text. */
export const ownOf = <T>(of: Readonly<Record<string, T>> | undefined, name: string): T | undefined =>
  of && Object.hasOwn(of, name) ? of[name] : undefined;
