/** Weights as parts of one. */
export function shares(parts: readonly (readonly [string, number])[]): (readonly [string, number])[] {
  const all = parts.reduce((n, [, w]) => n + w, 0);
  return parts.map(([label, w]) => [label, w / all] as const);
}

/**
 * Measures shared out among parts, so that the parts add up to them exactly: running totals are rounded, money in
 * hundredths. `money` marks the measures that are money.
 */
export function sharedOut(
  sums: readonly number[],
  parts: readonly (readonly [string, number])[],
  money: readonly boolean[],
): [string, number[]][] {
  const whole = money.map((m) => (m ? 100 : 1));
  let share = 0;
  let given = sums.map(() => 0);
  const out: [string, number[]][] = [];
  parts.forEach(([label, part], p) => {
    share = p === parts.length - 1 ? 1 : share + part;
    const upTo = sums.map((n, i) => Math.round(n * whole[i]! * share));
    const m = upTo.map((n, i) => (n - given[i]!) / whole[i]!);
    given = upTo;
    if (m.some((n) => n !== 0)) out.push([label, m]);
  });
  return out;
}
