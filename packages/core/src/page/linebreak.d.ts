/** Line breaking by UAX 14; the package brings no types. */
declare module 'linebreak' {
  export default class LineBreaker {
    constructor(text: string);
    /** The next place at which a line may end, as an index into the text; null at its end. */
    nextBreak(): { position: number; required: boolean } | null;
  }
}
