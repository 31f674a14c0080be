import { type RefObject, useEffect } from 'react';

/** Brings what is chosen in the outline, or by an address, into sight on its sheet; the keys stay with it. */
export function useInView(well: RefObject<HTMLElement | null>, block: string | null, isShown: boolean): void {
  useEffect(() => {
    if (block === null || !isShown) return;
    const box = well.current?.querySelector('.chosen-block')?.getBoundingClientRect();
    const room = well.current?.getBoundingClientRect();
    if (box && room && (box.top < room.top || box.bottom > room.bottom))
      well.current!.scrollTop += box.top - room.top - 40;
  }, [well, block, isShown]);
}
