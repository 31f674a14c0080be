import {
  DndContext,
  type DragEndEvent,
  DragOverlay,
  type DragStartEvent,
  MouseSensor,
  TouchSensor,
  useSensor,
  useSensors,
} from '@dnd-kit/core';
import { type ReactNode, useEffect, useRef, useState } from 'react';
import type { Block } from './block.ts';
import type { Document, Target } from './documentEdits.ts';
import { type Drop, dropUnder } from './dropPlaces.ts';

/** What is dragged: blocks of the report, or a new one. */
export type Dragged = { block: string } | { fresh: Block };

interface Props {
  document: Document;
  /** What is said of what is dragged. */
  nameOf: (dragged: Dragged) => string;
  onDrop: (dragged: Dragged, target: Target) => void;
  children: ReactNode;
}

/** The line where what is held would come to stand: it alone moves while something is dragged. */
function DropLine({ document, onOver }: { document: Document; onOver: (drop: Drop | null) => void }) {
  const line = useRef<HTMLDivElement>(null);
  useEffect(() => {
    let frame = 0;
    const move = (x: number, y: number) => {
      cancelAnimationFrame(frame);
      frame = requestAnimationFrame(() => {
        const drop = dropUnder(document, x, y);
        onOver(drop);
        const { style } = line.current!;
        style.display = drop ? 'block' : 'none';
        if (!drop) return;
        const { left, top, width, height } = drop.mark;
        style.transform = `translate(${left}px, ${top}px)`;
        style.width = `${width}px`;
        style.height = `${height}px`;
      });
    };
    const mouse = (e: MouseEvent) => move(e.clientX, e.clientY);
    const touch = (e: TouchEvent) => e.touches[0] && move(e.touches[0].clientX, e.touches[0].clientY);
    window.addEventListener('mousemove', mouse);
    window.addEventListener('touchmove', touch);
    return () => {
      cancelAnimationFrame(frame);
      window.removeEventListener('mousemove', mouse);
      window.removeEventListener('touchmove', touch);
    };
  }, [document, onOver]);
  return <div ref={line} className="drop-line" aria-hidden="true" />;
}

/** Lets blocks be dragged over outline and sheets. Whoever has no pointer moves them by keys. */
export function Dragging({ document, nameOf, onDrop, children }: Props) {
  const sensors = useSensors(
    useSensor(MouseSensor, { activationConstraint: { distance: 5 } }),
    useSensor(TouchSensor, { activationConstraint: { delay: 250, tolerance: 6 } }),
  );
  const [dragged, setDragged] = useState<Dragged | null>(null);
  const over = useRef<Drop | null>(null);
  const [seeOver] = useState(() => (drop: Drop | null) => {
    over.current = drop;
  });
  const start = ({ active }: DragStartEvent) => {
    over.current = null;
    setDragged(active.data.current as Dragged);
  };
  const end = ({ active }: DragEndEvent) => {
    setDragged(null);
    if (over.current) onDrop(active.data.current as Dragged, over.current.target);
  };
  return (
    <DndContext
      sensors={sensors}
      onDragStart={start}
      onDragEnd={end}
      onDragCancel={() => setDragged(null)}
      // Keys do what dragging does, without its words.
      accessibility={{ screenReaderInstructions: { draggable: 'Alt with the arrow keys moves it.' } }}
    >
      {children}
      {dragged && <DropLine document={document} onOver={seeOver} />}
      <DragOverlay dropAnimation={null}>{dragged && <div className="dragged">{nameOf(dragged)}</div>}</DragOverlay>
    </DndContext>
  );
}
