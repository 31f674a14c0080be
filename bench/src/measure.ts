/** Milliseconds of each of `times` runs, after `warm` that are not counted. */
export async function timings(
  times: number,
  warm: number,
  run: (i: number) => Promise<unknown> | unknown,
): Promise<number[]> {
  const out: number[] = [];
  for (let i = 0; i < warm + times; i++) {
    const began = performance.now();
    await run(i);
    if (i >= warm) out.push(performance.now() - began);
  }
  return out;
}

export const median = (values: number[]): number => [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)]!;
const quantile = (values: number[], q: number): number =>
  [...values].sort((a, b) => a - b)[Math.min(values.length - 1, Math.floor(values.length * q))]!;

/** One line: what was measured, its median and 95th percentile, and the ratio of the median to its limit. */
export function report(what: string, values: number[], limit: number, unit = 'ms'): void {
  const m = median(values);
  const verdict = m <= limit ? 'within' : 'OVER';
  const line = `${what.padEnd(58)} median ${m.toFixed(1)} ${unit}, 95 % ${quantile(values, 0.95).toFixed(1)}`;
  console.log(`${line.padEnd(100)} ${(m / limit).toFixed(2)} of ${limit} ${unit}: ${verdict}`);
}
