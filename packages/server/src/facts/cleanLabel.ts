/** Control characters, ends of lines and paragraphs, marks of byte order: nothing that anybody means or could see. */
const UNSEEN = /[\p{Cc}\u2028\u2029\ufeff\ufffe\uffff]/u;
const ALL = new RegExp(`${UNSEEN.source}+`, 'gu');

/** A label as it is kept: feeds bring what cannot be drawn, and what looks alike is to be one. */
export const cleanLabel = (label: string): string => (UNSEEN.test(label) ? label.replace(ALL, ' ').trim() : label);
