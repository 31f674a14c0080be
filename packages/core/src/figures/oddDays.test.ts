import { describe, expect, it } from 'vitest';
import {
  addDays,
  addMonths,
  type CivilDate,
  daysOf,
  lengthOf,
  monthEnd,
  type Range,
  weekdayOf,
} from '../calendar/index.ts';
import { oddDaysIn, rangesToJudge } from './index.ts';

/** Numbers that are the same on every machine (mulberry32). */
function randomOf(seed: number) {
  let a = seed >>> 0;
  const uniform = () => {
    a = (a + 0x6d2b79f5) >>> 0;
    let t = Math.imul(a ^ (a >>> 15), 1 | a);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4_294_967_296;
  };
  const normal = () => Math.sqrt(-2 * Math.log(1 - uniform())) * Math.cos(2 * Math.PI * uniform());
  const poisson = (mean: number): number => {
    if (mean > 60) return Math.max(0, Math.round(mean + Math.sqrt(mean) * normal()));
    let [n, p] = [0, uniform()];
    for (const end = Math.exp(-mean); p > end; n++) p *= uniform();
    return n;
  };
  return { uniform, normal, poisson, between: (lo: number, hi: number) => lo + (hi - lo) * uniform() };
}

/** Some days of one year of a client, three years of it known: its sums by day, and the days that were spoilt. */
function clientOf(seed: number) {
  const random = randomOf(seed);
  const { between, normal, poisson } = random;
  const year = 2026;
  const all: Range = { from: `${year - 2}-01-01`, to: `${year + 1}-02-28` };
  const week = Array.from({ length: 7 }, (_, i) => (i < 5 ? between(0.8, 1.2) : between(0.4, 1.4)));
  const [swing, peak, growth] = [between(0, 0.45), between(0, 1), between(-0.15, 0.35)];
  const [noise, drift] = [between(0.03, 0.13), between(0, 0.04)];
  const campaign = { from: Math.floor(between(20, 300)), days: 21, lift: between(0.2, 0.8) };
  const [visitsADay, orderRate, basket] = [between(80, 4000), between(0.01, 0.06), between(20, 400)];
  const spoilt = new Map<CivilDate, number>();
  for (let n = 0; n < 10; n++) {
    const day = addDays(`${year}-01-05`, Math.floor(between(0, 350)));
    const kind = n % 4;
    spoilt.set(day, kind === 0 ? 0 : kind === 1 ? between(0.05, 0.17) : kind === 2 ? between(2.6, 5) : 0);
  }
  let walk = 0;
  const visits: number[] = [];
  const orders: number[] = [];
  const revenue: number[] = [];
  const expectedOrders: number[] = [];
  daysOf(all).forEach((day, i) => {
    const dayOfYear = lengthOf({ from: `${day.slice(0, 4)}-01-01`, to: day });
    walk = 0.8 * walk + drift * normal();
    const runs = dayOfYear >= campaign.from && dayOfYear < campaign.from + campaign.days;
    const level =
      visitsADay *
      week[weekdayOf(day) - 1]! *
      (1 + swing * Math.cos(2 * Math.PI * (dayOfYear / 365 - peak))) *
      (1 + growth) ** (i / 365) *
      (runs ? 1 + campaign.lift : 1);
    const part = spoilt.get(day) ?? 1;
    const v = poisson(level * Math.exp(walk + noise * normal()) * part);
    const o = poisson(v * orderRate * Math.exp(0.06 * normal()));
    let money = 0;
    for (let k = 0; k < o; k++) money += basket * Math.exp(0.6 * normal() - 0.18);
    visits.push(v);
    orders.push(o);
    revenue.push(Math.round(money * 100) / 100);
    expectedOrders.push(level * orderRate);
  });
  return { year, all, spoilt, sums: { visits, orders, revenue }, expectedOrders };
}

/** A year's odd days, month by month, as each report of a month knows them on the second of the next one. */
function foundIn(series: number[], { year, all }: Pick<ReturnType<typeof clientOf>, 'year' | 'all'>): Set<CivilDate> {
  const found = new Set<CivilDate>();
  for (let m = 0; m < 12; m++) {
    const from = addMonths(`${year}-01-01`, m);
    const month = { from, to: monthEnd(from) };
    const known = { from: rangesToJudge(month)[0]!.from, to: addDays(month.to, 1) };
    const at = lengthOf({ from: all.from, to: known.from }) - 1;
    const values = Float64Array.from(series.slice(at, at + lengthOf(known)));
    for (const o of oddDaysIn({ from: known.from, values }, month)) found.add(o.day);
  }
  return found;
}

describe('odd days of generated years', () => {
  it('are found where they were planted, and hardly anywhere else', () => {
    let [planted, hit, falsely] = [0, 0, 0];
    const years = Array.from({ length: 20 }, (_, i) => clientOf(880_301 + 104_729 * i));
    for (const client of years) {
      for (const [name, series] of Object.entries(client.sums)) {
        const found = foundIn(series, client);
        for (const day of client.spoilt.keys()) {
          const i = lengthOf({ from: client.all.from, to: day }) - 1;
          if (name !== 'visits' && client.expectedOrders[i]! < 10) continue;
          planted++;
          if (found.has(day)) hit++;
        }
        falsely += [...found].filter((day) => !client.spoilt.has(day)).length;
      }
    }
    expect(planted).toBeGreaterThan(400);
    expect(hit / planted).toBeGreaterThanOrEqual(0.95);
    expect(falsely / years.length).toBeLessThanOrEqual(1);
  });
});

const october: Range = { from: '2026-10-01', to: '2026-10-31' };
const span: Range = { from: rangesToJudge(october)[0]!.from, to: rangesToJudge(october)[1]!.to };
const holidays = new Set(['2026-10-05']);

/** Fifteen months with a week's rhythm, a slow season and chance's own scatter; `change` may spoil days. */
function octoberOf(base: number, change: (day: CivilDate, value: number) => number, until = span.to) {
  const { poisson } = randomOf(base);
  const values = daysOf(span).map((day, i) => {
    const season = 1 + 0.3 * Math.cos((i / 365.25) * 2 * Math.PI);
    return day > until ? Number.NaN : change(day, poisson((weekdayOf(day) === 7 ? 0.4 : 1) * base * season));
  });
  return { from: span.from, values: Float64Array.from(values) };
}
const found = (base: number, change: (day: CivilDate, value: number) => number, until?: CivilDate) =>
  oddDaysIn(octoberOf(base, change, until), october).map((s) => [s.day, s.kind]);
const on = (days: Record<CivilDate, number>) => (day: CivilDate, v: number) =>
  day in days ? Math.round(v * days[day]!) : v;
const within = (from: CivilDate, to: CivilDate, times: number) => (day: CivilDate, v: number) =>
  from <= day && day <= to ? Math.round(v * times) : v;

describe('odd days', () => {
  it('are judged by nine weeks before, eight after, and by those around a year before', () => {
    expect(rangesToJudge(october)).toEqual([
      { from: addDays('2026-10-01', -399), to: addDays('2026-10-31', -329) },
      { from: addDays('2026-10-01', -63), to: addDays('2026-10-31', 56) },
    ]);
  });

  it('are none where week and season explain everything', () => {
    for (const base of [12, 40, 900, 60_000]) expect(found(base, (_, v) => v)).toEqual([]);
  });

  it('are days without anything and jumps either way, with what is usual', () => {
    const odd = oddDaysIn(octoberOf(900, on({ '2026-10-05': 0, '2026-10-14': 2.5, '2026-10-22': 0.3 })), october);
    expect(odd.map((o) => [o.day, o.kind])).toEqual([
      ['2026-10-05', 'zero'],
      ['2026-10-14', 'jump'],
      ['2026-10-22', 'jump'],
    ]);
    for (const o of odd) {
      expect(o.usual).toBeGreaterThan(850);
      expect(o.usual).toBeLessThan(1250);
    }
  });

  it('are found of 6 where 36 are usual, and not of a handful', () => {
    const six = (day: CivilDate, v: number) => (day === '2026-10-14' ? 6 : v);
    expect(found(36, six)).toEqual([['2026-10-14', 'jump']]);
    expect(found(6, on({ '2026-10-14': 0 }))).toEqual([]);
    expect(found(6, (day, v) => (day === '2026-10-14' ? 15 : v))).toEqual([]);
    expect(found(40, on({ '2026-10-14': 0 }))).toEqual([['2026-10-14', 'zero']]);
  });

  it('of money are judged by its scatter: one large order of a few is none', () => {
    const { poisson, uniform } = randomOf(3);
    const ofOrders = (mean: number, spoil: number) =>
      octoberOf(1, (day) => {
        let sum = 0;
        for (let k = poisson(mean); k > 0; k--) sum += 20.5 + 80 * uniform();
        return day === '2026-10-14' ? sum * spoil : sum;
      });
    expect(oddDaysIn(ofOrders(40, 0), october).map((o) => o.day)).toEqual(['2026-10-14']);
    expect(oddDaysIn(ofOrders(40, 3), october).map((o) => o.day)).toEqual(['2026-10-14']);
    expect(oddDaysIn(ofOrders(2, 0), october)).toEqual([]);
    expect(oddDaysIn(ofOrders(2, 4), october)).toEqual([]);
  });

  it('are not the Sundays of a shop that is closed on them', () => {
    expect(found(900, (day, v) => (weekdayOf(day) === 7 ? 0 : v))).toEqual([]);
  });

  it('are not days that jump or are empty every year, by weekday or by date', () => {
    for (const before of [-364, -371, -357, -365, -366].map((n) => addDays('2026-10-14', n))) {
      for (const times of [0, 0.2, 2.5]) {
        expect(found(900, on({ '2026-10-14': times, [before]: times })), `${before} ${times}`).toEqual([]);
      }
    }
    expect(found(900, on({ '2026-10-14': 0.2, '2025-10-15': 2.5 }))).toHaveLength(1);
  });

  it('are not holidays, which do not spoil what is usual either', () => {
    const series = octoberOf(900, on({ '2026-10-05': 0 }));
    expect(oddDaysIn(series, october, holidays)).toEqual([]);
    expect(oddDaysIn(series, october)).toHaveLength(1);
  });

  it('are all days of an outage, and none of a season of rest', () => {
    const outage = found(900, within('2026-10-06', '2026-10-19', 0));
    // The Sundays bring two fifths of a day; they are missed as well.
    expect(outage.map(([day]) => day)).toEqual(daysOf({ from: '2026-10-06', to: '2026-10-19' }));
    expect(new Set(outage.map(([, kind]) => kind))).toEqual(new Set(['zero']));
    expect(found(900, within('2026-09-20', '2026-11-20', 0))).toEqual([]);
  });

  it('end with a pause: four weeks of nothing are a fault, more are not, and two at the end of what is known', () => {
    const hole = (days: number) => found(900, within('2026-10-02', addDays('2026-10-02', days - 1), 0)).length;
    expect(hole(28)).toBe(28);
    expect(hole(29)).toBe(0);
    const silence = (days: number) =>
      found(900, within(addDays('2026-11-01', 1 - days), '2026-11-01', 0), '2026-11-01').length;
    expect(silence(14)).toBe(13);
    expect(silence(15)).toBe(0);
  });

  it('are not empty days of a weekday that is empty now and then', () => {
    const twice = { '2026-09-02': 0, '2026-09-23': 0, '2026-10-14': 0 };
    expect(found(40, on({ '2026-09-23': 0, '2026-10-14': 0 }))).toEqual([['2026-10-14', 'zero']]);
    expect(found(40, on(twice)).filter(([, kind]) => kind === 'zero')).toEqual([]);
  });

  it('are the first days of silence, until it is what is usual', () => {
    const silent = within('2026-10-26', '2027-12-31', 0);
    expect(found(900, silent, '2026-11-01')).toHaveLength(6);
    expect(found(900, silent)).toEqual([]);
  });

  it('are not the first days of a new level', () => {
    expect(found(900, within('2026-10-10', '2027-12-31', 1.8))).toEqual([]);
    expect(found(900, within('2026-10-10', '2027-12-31', 1.8), '2026-11-01')).toEqual([]);
  });

  it('are not looked for where too little is known to judge by', () => {
    const late = octoberOf(900, on({ '2026-10-14': 0 }), '2026-11-01');
    late.values.fill(Number.NaN, 0, lengthOf({ from: span.from, to: '2026-10-10' }));
    expect(oddDaysIn(late, october)).toEqual([]);
  });

  it('are not found in what is empty, shorter than a week, or negative', () => {
    const bare = (values: number[]) => oddDaysIn({ from: '2026-10-01', values: Float64Array.from(values) }, october);
    expect(bare([])).toEqual([]);
    expect(bare([1, 2, 3])).toEqual([]);
    expect(bare(Array.from({ length: 31 }, () => 0))).toEqual([]);
    expect(found(900, (_, v) => -v)).toEqual([]);
  });
});
