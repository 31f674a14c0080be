export { LOCALES } from '../words/locales.ts';
