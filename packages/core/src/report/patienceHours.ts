/** Hours for which a schedule may wait after its time for figures that are late; none: it is held there and then. */
export const PATIENCE_HOURS = [0, 1, 2, 3, 6, 12] as const;
