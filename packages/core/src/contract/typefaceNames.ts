/** What a screen needs to offer typefaces. */
export { HOUSE_TYPEFACES, nameOfTypeface, TYPEFACES, type Typeface, type Typefaces } from '../report/typefaces.ts';
