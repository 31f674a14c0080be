/** A measure of a feed as words: `engagedSeconds` reads "Engaged seconds". */
export const measureName = (measure: string): string =>
  measure
    .replace(/_/g, ' ')
    .replace(/([a-z\d])([A-Z])/g, (_, before: string, after: string) => `${before} ${after.toLowerCase()}`)
    .replace(/^./, (c) => c.toUpperCase());
