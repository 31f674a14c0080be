/** The file of a picture, by what a mail's HTML calls it (RFC 2392): its SHA-256 stands first. */
export const fileOfPicture = (cid: string): string => cid.slice(0, 64);

/** What a picture is by its first bytes: mails carry PNG and JPEG alone. */
export const pictureType = (data: Buffer): 'image/png' | 'image/jpeg' =>
  data[0] === 0x89 ? 'image/png' : 'image/jpeg';
