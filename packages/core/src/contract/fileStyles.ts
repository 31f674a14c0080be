/** How files and people write dates and numbers; a file of its own, for the interface is to carry no more than that. */
export { keyOfName } from '../feeds/files/keyOfName.ts';
export { guessNumbers, readNumber } from '../feeds/files/numbers.ts';
export * from '../feeds/files/styles.ts';
