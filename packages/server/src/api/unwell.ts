/** A whole reply that is sent with 503: whoever watches the server looks at the number alone. */
export class Unwell<T> {
  constructor(readonly body: T) {}
}
