import { Loading } from '../../parts/Loading.tsx';
import { ScenePage } from '../../parts/ScenePage.tsx';
import type { Press } from './Outline.tsx';
import { SheetBlocks } from './SheetBlocks.tsx';
import type { Shown } from './usePreview.ts';
import { sheetWidth, type ZoomAt } from './Zoom.tsx';

/** The sheets of a report as they are printed, with its blocks to be chosen on them. */
export function Sheets({
  shown,
  client,
  zoom,
  chosen,
  columns,
  onChoose,
  onColumns,
}: {
  shown: Shown | null;
  client: string;
  zoom: ZoomAt;
  chosen: ReadonlySet<string>;
  /** Columns of the block that is chosen alone; null for none. */
  columns: number | null;
  onChoose: (id: string, how: Press) => void;
  onColumns: (id: string, columns: number) => void;
}) {
  if (!shown) return <Loading lines={12} />;
  return (
    <div className={zoom === 'spread' ? 'sheets spread' : 'sheets'}>
      {shown.pages.map(({ page: sheet }, i) => (
        // By its place: of a sheet that changed, only what differs is painted anew.
        <div
          key={i}
          className="sheet"
          data-drop="sheet"
          style={{ width: sheetWidth(zoom, sheet), aspectRatio: `${sheet.width} / ${sheet.height}` }}
        >
          <ScenePage page={sheet} lang={shown.lang} pictures={`/api/clients/${client}/pictures`} />
          <SheetBlocks
            page={sheet}
            sheet={i}
            chosen={chosen}
            columns={columns}
            onChoose={onChoose}
            onColumns={onColumns}
          />
        </div>
      ))}
    </div>
  );
}
