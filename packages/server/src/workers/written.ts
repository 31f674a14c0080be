/**
 * A value already written as JSON, by the thread that made it: whoever sends it on spends no time on it.
 *
 * @example res.type('json').send(written.bytes)
 */
export class Written<T> {
  /** Only for the compiler: what the bytes say. */
  declare readonly says?: T;

  constructor(readonly bytes: Uint8Array) {}

  static of<T>(value: T): Written<T> {
    return new Written(Buffer.from(JSON.stringify(value)));
  }

  /** An object of which one member has been written already. */
  static with<T extends object, K extends string, V>(rest: T, key: K, value: Written<V>): Written<T & Record<K, V>> {
    const open = JSON.stringify(rest).slice(0, -1);
    const before = `${open}${open.length > 1 ? ',' : ''}${JSON.stringify(key)}:`;
    return new Written(Buffer.concat([Buffer.from(before), value.bytes, Buffer.from('}')]));
  }

  read(): T {
    return JSON.parse(Buffer.from(this.bytes).toString('utf8')) as T;
  }
}
