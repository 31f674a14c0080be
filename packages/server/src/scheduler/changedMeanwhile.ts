/** What was made ready before a transaction no longer fits what is there: it is made ready again. */
export class ChangedMeanwhile extends Error {}
