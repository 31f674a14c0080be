/** A sentence with its full stop; one whose last word is shortened has it already (`p.p.`). */
export const fullStop = (sentence: string): string => (sentence.endsWith('.') ? sentence : `${sentence}.`);
