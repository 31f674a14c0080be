export * from './draw.ts';
export { paintPdf } from './pdfPainter.ts';
export { createShaper, type Shaper } from './shaper.ts';
