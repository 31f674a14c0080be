/** What every messy file is about: what two shops sold on the first fortnight of October. */
export interface Sale {
  /** `YYYY-MM-DD` */
  day: string;
  shop: 'Quay' | 'Hill';
  sold: number;
  /** In whole pence, so that sums of them are exact. */
  pence: number;
}

export const DAYS = Array.from({ length: 14 }, (_, i) => `2026-10-${String(i + 1).padStart(2, '0')}`);

export const SALES: readonly Sale[] = DAYS.flatMap((day, i) =>
  (['Quay', 'Hill'] as const).map((shop, s) => ({
    day,
    shop,
    sold: 3 + ((i * 5 + s * 3) % 11),
    pence: 12_050 + i * 1_325 + s * 40_075,
  })),
);

const sum = (of: (s: Sale) => number, sales: readonly Sale[]) => sales.reduce((n, s) => n + of(s), 0);

export const soldIn = (sales: readonly Sale[] = SALES): number => sum((s) => s.sold, sales);
export const takenIn = (sales: readonly Sale[] = SALES): number => sum((s) => s.pence, sales) / 100;
