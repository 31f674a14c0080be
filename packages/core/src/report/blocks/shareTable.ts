/** A part as it is shown. */
export interface ShareLine {
  label: string;
  share: number;
  value: number;
  /** By how much its share has moved, as a fraction of one; null where that may not be told. */
  moved: number | null;
  isOther: boolean;
}

export interface ShareTable {
  title: string;
  mark: string;
  metric: string;
  lines: ShareLine[];
  hasChange: boolean;
  /** Whether it is made from a part of the days. */
  isPartly: boolean;
}
