/** The paper, in points: A4 upright, with margins of 15 mm. */
export const SHEET = { width: 595.28, height: 841.89 };
export const MARGIN = 42.52;
export const WIDTH = SHEET.width - 2 * MARGIN;
export const RIGHT = SHEET.width - MARGIN;
