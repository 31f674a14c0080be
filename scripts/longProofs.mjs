/** Tests that `npm run proofs` runs, and `npm test` leaves out: together they take as long as all others. */
export const LONG_PROOFS = [
  'e2e/src/blocks.test.ts',
  'e2e/src/composing.test.ts',
  'e2e/src/fewActions.test.ts',
  'e2e/src/keyboard.test.ts',
  'e2e/src/paper.test.ts',
  'e2e/src/people.test.ts',
  'e2e/src/planning.test.ts',
];
