import { promisify } from 'node:util';
import { gunzip } from 'node:zlib';
import type { Request, Response } from 'express';

const unpack = promisify(gunzip);

/** Sends what a thread has packed by gzip (RFC 1952): the thread that answers people neither packs nor hashes it. */
export async function sendPacked(req: Request, res: Response, packed: Uint8Array): Promise<void> {
  const bytes = Buffer.from(packed.buffer, packed.byteOffset, packed.byteLength);
  res.vary('accept-encoding');
  if (!req.acceptsEncodings('gzip')) {
    const plain = await unpack(bytes);
    res.set('content-length', String(plain.length)).end(plain);
    return;
  }
  res.set({ 'content-encoding': 'gzip', 'content-length': String(bytes.length) }).end(bytes);
}
