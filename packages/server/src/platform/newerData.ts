/** The data folder was used by a newer version, whose tables this one does not know. */
export class NewerData extends Error {
  constructor() {
    super(
      'This data folder was used by a newer version of Chronicon. Start that version, or restore the backup from before the upgrade.',
    );
  }
}
