/** What makes an edition the one it is (SEMANTICS §10): the schedule, the unmoved date, the reader group, the revision. */
export interface EditionIdentity {
  scheduleId: string;
  nominal: string;
  readerGroup: string;
  revision: number;
}

/** The text that an edition's id is made from: the same wherever and whenever the same run is planned. */
export const identityText = (i: EditionIdentity): string =>
  JSON.stringify([i.scheduleId, i.nominal, i.readerGroup, i.revision]);
