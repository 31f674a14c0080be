import type { ScenePage } from '@chronicon/core/page';
import { useDraggable } from '@dnd-kit/core';
import { memo, type PointerEvent as Press, type ReactNode, useState } from 'react';
import { COLUMNS, LEAST_COLUMNS } from './documentEdits.ts';
import { type Press as How, pressOf } from './Outline.tsx';

type Placed = ScenePage['blocks'][number];

/** Margin of a sheet beside its columns, in points (15 mm). */
const MARGIN = 42.52;
const APART = 5;

/** A handle that sets how many columns a block spans: what it would come to is shown, and done when it is let go. */
function Handle({
  block,
  page,
  columns,
  onColumns,
}: {
  block: Placed;
  page: ScenePage;
  columns: number;
  onColumns: (n: number) => void;
}) {
  const [by, setBy] = useState<number | null>(null);
  const at = (n: number) => Math.min(COLUMNS, Math.max(LEAST_COLUMNS, n));
  const column = (page.width - 2 * MARGIN) / COLUMNS;
  const grab = (e: Press<HTMLElement>) => {
    e.stopPropagation();
    const handle = e.currentTarget;
    handle.setPointerCapture(e.pointerId);
    const scale = handle.closest('.sheet')!.getBoundingClientRect().width / page.width;
    const from = e.clientX;
    const move = (m: PointerEvent) => setBy(Math.round((m.clientX - from) / scale / column));
    const up = (m: PointerEvent) => {
      handle.removeEventListener('pointermove', move);
      const moved = at(columns + Math.round((m.clientX - from) / scale / column));
      setBy(null);
      if (moved !== columns) onColumns(moved);
    };
    handle.addEventListener('pointermove', move);
    handle.addEventListener('pointerup', up, { once: true });
    handle.addEventListener(
      'pointercancel',
      () => {
        handle.removeEventListener('pointermove', move);
        handle.removeEventListener('pointerup', up);
        setBy(null);
      },
      { once: true },
    );
  };
  return (
    <>
      {by !== null && (
        <span className="columns-ghost" style={{ width: `${((block.w + by * column) / block.w) * 100}%` }}>
          {at(columns + by)} of {COLUMNS} columns
        </span>
      )}
      {/* biome-ignore lint/a11y/noStaticElementInteractions: Alt+Shift with the arrow keys is the keyboard's way */}
      <span
        className="handle"
        title="Drag to change the width"
        onPointerDown={grab}
        onMouseDown={(e) => e.stopPropagation()}
      />
    </>
  );
}

interface BlockProps {
  id: string;
  place: string;
  /** Its place on the sheet, in percent. */
  left: number;
  top: number;
  width: number;
  height: number;
  chosen: boolean;
  onChoose: (id: string, how: How) => void;
  children?: ReactNode;
}

/** The place of one block: drawn anew where it has moved, whatever has changed on its sheet. */
const SheetBlock = memo(function SheetBlock(props: BlockProps) {
  const { id, place, left, top, width, height, chosen, onChoose, children } = props;
  const { setNodeRef, listeners } = useDraggable({ id: place, data: { block: id } });
  return (
    // Blocks are chosen by keyboard in the outline; this is the pointer's way.
    // biome-ignore lint/a11y/noStaticElementInteractions: see above
    // biome-ignore lint/a11y/useKeyWithClickEvents: see above
    <div
      ref={setNodeRef}
      className={`sheet-block${chosen ? ' chosen-block' : ''}`}
      data-drop={`block ${id}`}
      data-sheet-block={id}
      style={{ left: `${left}%`, top: `${top}%`, width: `${width}%`, height: `${height}%` }}
      onClick={(e) => onChoose(id, pressOf(e))}
      {...listeners}
    >
      {children}
    </div>
  );
});

interface Props {
  page: ScenePage;
  sheet: number;
  chosen: ReadonlySet<string>;
  /** Of the block that is chosen alone. */
  columns: number | null;
  onChoose: (id: string, how: How) => void;
  onColumns: (id: string, columns: number) => void;
}

/** What can be pressed, dragged and made wider on a sheet: a place for each block, over the page itself. */
export const SheetBlocks = memo(function SheetBlocks({ page, sheet, chosen, columns, onChoose, onColumns }: Props) {
  const x = (n: number) => (n / page.width) * 100;
  const y = (n: number) => (n / page.height) * 100;
  return page.blocks.map((block, i) => {
    const alone = chosen.size === 1 && chosen.has(block.id) && columns !== null;
    return (
      <SheetBlock
        key={`${block.id} ${i}`}
        id={block.id}
        place={`sheet ${sheet} ${i} ${block.id}`}
        left={x(block.x - APART)}
        top={y(block.y - APART)}
        width={x(block.w + 2 * APART)}
        height={y(block.h + 2 * APART)}
        chosen={chosen.has(block.id)}
        onChoose={onChoose}
      >
        {alone && <Handle block={block} page={page} columns={columns} onColumns={(n) => onColumns(block.id, n)} />}
      </SheetBlock>
    );
  });
});
