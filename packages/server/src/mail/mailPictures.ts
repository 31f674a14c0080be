/** Files of the pictures that stand in a mail, by what its HTML calls them (RFC 2392). */
export const picturesIn = (html: string): { cid: string; file: string }[] =>
  [...new Set([...html.matchAll(/src="cid:([0-9a-f]{64}@[a-z]+)"/g)].map(([, cid]) => cid!))].map((cid) => ({
    cid,
    file: cid.slice(0, 64),
  }));

/** What a picture is by its first bytes: mails carry PNG and JPEG alone. */
export const pictureType = (data: Buffer): 'image/png' | 'image/jpeg' =>
  data[0] === 0x89 ? 'image/png' : 'image/jpeg';
