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

interface Measured {
  what: string;
  median: number;
  slowest: number;
  /** What is held against the limit: most promises speak of the median, some of the 95th percentile. */
  held: number;
  limit: number;
  unit: string;
}
const measured: Measured[] = [];

const written = (n: number) => (n >= 100 ? n.toFixed(0) : n.toFixed(1));

/** One line: what was measured, its median and 95th percentile, and the ratio of the one that is promised to its limit. */
export function report(what: string, values: number[], limit: number, unit = 'ms', of: 'median' | 'p95' = 'median') {
  const [middle, slowest] = [median(values), quantile(values, 0.95)];
  const held = of === 'p95' ? slowest : middle;
  const row: Measured = { what: what.replace(/^ +/, '· '), median: middle, slowest, held, limit, unit };
  measured.push(row);
  const verdict = held <= limit ? 'within' : 'OVER';
  const line = `${what.padEnd(58)} median ${row.median.toFixed(1)} ${unit}, 95 % ${row.slowest.toFixed(1)}`;
  console.log(`${line.padEnd(100)} ${(held / limit).toFixed(2)} of ${limit} ${unit}: ${verdict}`);
}

/** Everything that was reported, as a table of budgets. */
export function budgets(): string {
  const rows = measured.map((m) =>
    [m.what, written(m.median), written(m.slowest), `${m.limit} ${m.unit}`.trim(), (m.held / m.limit).toFixed(2)].join(
      ' | ',
    ),
  );
  return [
    '| Measured | Median | 95 % | Budget | Of it |',
    '|---|---|---|---|---|',
    ...rows.map((r) => `| ${r} |`),
  ].join('\n');
}
