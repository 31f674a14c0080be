import { componentOffsets, openTrueType } from '../../render/trueType.ts';

/** Tables of a font file by their tags. */
export type Tables = ReadonlyMap<string, Uint8Array>;

export const viewOf = (bytes: Uint8Array): DataView => new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);

/** More tables than any font has. */
const MOST_TABLES = 100;

/** @throws RangeError where a table lies outside the file */
export function tablesOf(data: Uint8Array): Tables {
  const view = viewOf(data);
  const count = view.getUint16(4);
  if (count > MOST_TABLES) throw new RangeError('too many tables');
  const tables = new Map<string, Uint8Array>();
  for (let i = 0; i < count; i++) {
    const at = 12 + 16 * i;
    const tag = String.fromCharCode(...data.subarray(at, at + 4));
    const [start, length] = [view.getUint32(at + 8), view.getUint32(at + 12)];
    if (start + length > data.length) throw new RangeError(`table ${tag} lies outside the file`);
    tables.set(tag, data.subarray(start, start + length));
  }
  return tables;
}

/**
 * Reads every outline as drawing does.
 * @throws RangeError where one lies outside its table, is cut short, or is made of what is not there
 */
export function checkOutlines(file: Uint8Array): void {
  const tables = tablesOf(file);
  const count = viewOf(tables.get('maxp')!).getUint16(4);
  if (count === 0) throw new RangeError('no glyph');
  const glyf = tables.get('glyf')!;
  const loca = viewOf(tables.get('loca')!);
  const isLong = viewOf(tables.get('head')!).getInt16(50) === 1;
  const startOf = (g: number) => (isLong ? loca.getUint32(g * 4) : loca.getUint16(g * 2) * 2);
  for (let g = 0; g < count; g++) {
    const [start, end] = [startOf(g), startOf(g + 1)];
    if (end < start || end > glyf.length) throw new RangeError(`glyph ${g} lies outside its table`);
    const glyph = viewOf(glyf.subarray(start, end));
    for (const at of componentOffsets(glyph))
      if (glyph.getUint16(at) >= count) throw new RangeError(`glyph ${g} is made of what is not there`);
  }
  const type = openTrueType(file);
  if (type.unitsPerEm < 16 || type.unitsPerEm > 16_384) throw new RangeError('no size of its own');
  // The last one's advance and bearing have to be there, too.
  type.subset([count - 1]);
}
