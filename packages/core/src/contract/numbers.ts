export { createNumbers, MINUS, type Numbers } from '../words/numbers.ts';
