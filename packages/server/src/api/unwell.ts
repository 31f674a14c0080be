/** A complete reply that is sent with status 503: monitors look only at the status. */
export class Unwell<T> {
  constructor(readonly body: T) {}
}
