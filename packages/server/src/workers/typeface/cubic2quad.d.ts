/** Cubic curves as quadratic ones; the package brings no types. */
declare module 'cubic2quad' {
  /** @returns the first point, then a steering and an end point for each curve: x and y of each */
  export default function cubic2quad(
    x1: number,
    y1: number,
    cx1: number,
    cy1: number,
    cx2: number,
    cy2: number,
    x2: number,
    y2: number,
    precision: number,
  ): number[];
}
