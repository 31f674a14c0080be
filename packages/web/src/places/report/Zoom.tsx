import { memo } from 'react';
import { Choice } from '../../parts/Choice.tsx';

/** How large sheets are shown: as wide as there is room for, whole, at a size, or two side by side. */
export const ZOOMS = [
  { value: 'fit', label: 'Fit' },
  { value: 'whole', label: 'Whole' },
  { value: '100', label: '100 %' },
  { value: '150', label: '150 %' },
  { value: 'spread', label: 'Two' },
] as const;
export type ZoomAt = (typeof ZOOMS)[number]['value'];

export const readZoom = (text: string | null): ZoomAt => ZOOMS.find((z) => z.value === text)?.value ?? 'fit';

/** CSS pixels of a point at 100 %. */
const PIXELS = 96 / 72;

/** The width of a sheet, as CSS. @param page its size in points */
export function sheetWidth(zoom: ZoomAt, page: { width: number; height: number }): string {
  if (zoom === 'whole') return `min(100%, calc((100vh - 190px) * ${page.width / page.height}))`;
  if (zoom === 'fit') return `min(100%, ${page.width > page.height ? 1070 : 760}px)`;
  if (zoom === 'spread') return '100%';
  return `${(page.width * PIXELS * Number(zoom)) / 100}px`;
}

export const Zoom = memo(function Zoom({ value, onChange }: { value: ZoomAt; onChange: (zoom: ZoomAt) => void }) {
  return <Choice label="Zoom" options={ZOOMS} value={value} onChange={onChange} />;
});
