/** Where the links of mails lead; the secret stands behind `#`, which no server and no log is told. */
export const LINK = '/link';
