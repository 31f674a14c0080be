/** An absolute path of M, L, C, Q and Z with each of its points moved. */
export function movePath(d: string, move: (x: number, y: number) => readonly [number, number]): string {
  return d.replace(/([MLCQ])([^MLCQZ]*)/g, (_, command: string, rest: string) => {
    const n = (rest.match(/-?(?:\d+\.?\d*|\.\d+)(?:e[+-]?\d+)?/gi) ?? []).map(Number);
    const out: number[] = [];
    for (let i = 0; i + 1 < n.length; i += 2) out.push(...move(n[i]!, n[i + 1]!));
    return command + out.join(' ');
  });
}
