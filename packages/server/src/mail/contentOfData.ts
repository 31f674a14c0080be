import { Readable, type Transform } from 'node:stream';

/** Bytes that are handed to the system at once: what a wait for the next of them is about. */
const PART = 16 * 1024;
const CRLF = Buffer.from('\r\n');

/** A mail as DATA carries it: a dot more before each one that begins a line (RFC 5321 §4.5.2). */
function dotted(mime: Buffer): Buffer {
  const parts: Buffer[] = [];
  let from = 0;
  const begin = (at: number) => {
    parts.push(mime.subarray(from, at), Buffer.from('.'));
    from = at;
  };
  if (mime[0] === 0x2e) begin(0);
  for (let at = mime.indexOf('\r\n.'); at >= 0; at = mime.indexOf('\r\n.', at + 2)) begin(at + 2);
  return parts.length === 0 ? mime : Buffer.concat([...parts, mime.subarray(from)]);
}

/**
 * A mail whose lines end with CRLF alone, on its way to the mail server; tells when a part was taken, and when the last one was.
 * The library's stream would look at each byte once more, which takes longer than anything else that is done for a mail: what
 * is there already goes past it, and it is given the last end of line, after which it ends the mail.
 */
export class ContentOfData extends Readable {
  constructor(
    private readonly mime: Buffer,
    private readonly taken: (last: boolean) => void,
  ) {
    super();
  }

  override pipe<T extends NodeJS.WritableStream>(into: T): T {
    const stream = into as unknown as Transform;
    const isClosed = this.mime.subarray(-CRLF.length).equals(CRLF);
    const content = dotted(isClosed ? this.mime.subarray(0, -CRLF.length) : this.mime);
    let left = content.length;
    // At first nothing was taken, and the wait begins.
    this.taken(false);
    stream.on('data', (part: Buffer) => {
      left -= part.length;
      this.taken(left <= 0);
    });
    for (let at = 0; at < content.length; at += PART) stream.push(content.subarray(at, at + PART));
    stream.end(CRLF);
    return into;
  }
}
