/** Values that break what takes them on trust: names of Object's members, wrong types, huge and odd ones. */

/** Numbers in [0, 1), the same for the same seed (mulberry32). */
export function seededChance(seed: number): () => number {
  let a = seed >>> 0;
  return () => {
    a = (a + 0x6d2b79f5) >>> 0;
    let t = Math.imul(a ^ (a >>> 15), 1 | a);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4_294_967_296;
  };
}

export const OBJECT_NAMES: readonly string[] = [
  ...Object.getOwnPropertyNames(Object.prototype),
  'prototype',
  'then',
  'toJSON',
];

const LONG = 'x'.repeat(70_000);
const deep = (n: number): unknown => {
  let value: unknown = 1;
  for (let i = 0; i < n; i++) value = [value];
  return value;
};

const ODD: readonly unknown[] = [
  null,
  true,
  '',
  ' ',
  0,
  -1,
  1e308,
  -1e308,
  0.1,
  2 ** 53,
  LONG,
  '\u0000',
  '\ud800',
  '‮abc',
  '٣',
  '9999-12-31',
  '0000-00-00',
  '2026-02-30',
  '-271821-04-20',
  '1e999',
  '%',
  "'; drop table client; --",
  '{"a":1}',
  [],
  {},
  [null],
  [[]],
  { length: 1e9 },
  Array.from({ length: 5_000 }, (_, i) => i),
  deep(400),
  JSON.parse('{"__proto__":{"a":1},"constructor":{"prototype":1}}'),
];

/** One hostile value. */
export function hostile(chance: () => number): unknown {
  const pick = <T>(all: readonly T[]): T => all[Math.floor(chance() * all.length)]!;
  return chance() < 0.5 ? pick(OBJECT_NAMES) : pick(ODD);
}

/** The same with one to three of its values, or of its names, replaced by hostile ones. */
export function spoiled(value: unknown, chance: () => number): unknown {
  let found = value;
  for (let times = 1 + Math.floor(chance() * 3); times > 0; times--) found = spoilOne(found, chance);
  return found;
}

function spoilOne(value: unknown, chance: () => number): unknown {
  if (typeof value !== 'object' || value === null || chance() < 0.08) return hostile(chance);
  if (Array.isArray(value)) {
    const at = Math.floor(chance() * (value.length + 1));
    if (at === value.length) return [...value, hostile(chance)];
    return value.map((v, i) => (i === at ? spoilOne(v, chance) : v));
  }
  const entries = Object.entries(value);
  const at = Math.floor(chance() * (entries.length + 1));
  if (at === entries.length) entries.push([String(hostile(chance)).slice(0, 80), hostile(chance)]);
  else if (chance() < 0.15) entries[at]![0] = String(hostile(chance)).slice(0, 80);
  else entries[at]![1] = spoilOne(entries[at]![1], chance);
  // As JSON has it: `__proto__` is a name like any other.
  return Object.fromEntries(entries);
}
