/** What a screen needs to say how a brand comes out on paper while it is chosen. */
export { brandWords } from '../page/brandWords.ts';
export { readable } from '../page/palette.ts';
export { KIT_PARTS, type KitPart, settleBrand } from '../report/brand.ts';
