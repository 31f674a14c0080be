import { describe, expect, it } from 'vitest';
import { clientInput, contactInput, FILE_ROUTES, type Route, routes, scheduleInput } from './index.ts';

const schedule = {
  reportId: 'rp_1',
  rule: { freq: 'monthly', every: 1, on: { day: 3 } },
  time: '08:00',
  zone: 'Europe/London',
  firstDate: '2026-11-01',
  lastDate: null,
  period: { kind: 'unit', unit: 'month', offset: -1 },
  comparison: { kind: 'previous' },
  readers: [{ contact: 'co_1' }],
  subject: 'Report',
  message: 'Hello',
};
const faultOf = (change: object) => scheduleInput.safeParse({ ...schedule, ...change }).error?.issues[0];

describe('the contract', () => {
  it('names each route once, with its roles', () => {
    const names = [...Object.keys(routes), ...Object.keys(FILE_ROUTES)];
    expect(new Set(names).size).toBe(names.length);
    for (const r of Object.values(routes)) expect(r.roles === 'open' || r.roles.length > 0).toBe(true);
  });

  it('says of whatever is sent what is wrong with it in words of its own, never in those of a validator', () => {
    const junk = [
      undefined,
      null,
      1e99,
      -1,
      0.5,
      'x'.repeat(9_000),
      '',
      [],
      Array(900).fill('x'),
      {},
      { kind: 'x' },
      true,
    ];
    const messages = new Set<string>();
    for (const r of Object.values(routes) as Route[]) {
      for (const schema of [r.body, r.query]) {
        const keys = Object.keys((schema as { shape?: object }).shape ?? {});
        for (const value of junk) {
          const sent = Object.fromEntries(keys.map((key) => [key, value]));
          for (const input of [value, sent]) {
            for (const issue of schema.safeParse(input).error?.issues ?? []) messages.add(issue.message);
          }
        }
      }
    }
    expect(messages.size).toBeGreaterThan(20);
    expect(
      [...messages].filter((m) =>
        /expected|received|invalid (input|type|option|string)|too (big|small)|unrecognized/i.test(m),
      ),
    ).toEqual([]);
    const day = faultOf({ rule: { freq: 'monthly', every: 1, on: { day: 32 } } });
    expect(day?.message).not.toMatch(/expected|invalid/i);
  });

  it('takes a good schedule and tells the field of each fault', () => {
    expect(faultOf({})).toBeUndefined();
    expect(faultOf({ readers: [] })).toMatchObject({
      path: ['readers'],
      message: expect.stringContaining('Add a reader or choose “archive only”.'),
    });
    expect(faultOf({ period: { kind: 'fixed', from: '2026-02-02', to: '2026-02-01' } })?.path).toEqual([
      'period',
      'to',
    ]);
    expect(faultOf({ lastDate: '2026-10-01' })?.path).toEqual(['lastDate']);
    expect(faultOf({ zone: 'Europe/Nowhere' })?.path).toEqual(['zone']);
    expect(faultOf({ time: '24:00' })?.path).toEqual(['time']);
    expect(faultOf({ rule: { freq: 'weekly', every: 1, weekdays: [] } })?.message).toBe('Choose at least one weekday.');
    expect(faultOf({ firstDate: '2026-02-30' })?.path).toEqual(['firstDate']);
  });

  it('knows addresses, zones and currencies from what only looks like them', () => {
    expect(contactInput.safeParse({ firstName: 'A', lastName: '', email: 'a@b' }).success).toBe(false);
    expect(contactInput.safeParse({ firstName: 'A', lastName: '', email: 'a@b.example' }).success).toBe(true);
    const client = {
      name: 'X',
      zone: 'Europe/London',
      currency: 'GBP',
      language: 'en-GB',
      weekStart: 1,
      fiscalStart: 1,
      startDate: '2026-01-01',
    };
    expect(clientInput.safeParse(client).success).toBe(true);
    expect(clientInput.safeParse({ ...client, currency: 'QQQ' }).success).toBe(false);
    expect(clientInput.safeParse({ ...client, language: 'tlh' }).success).toBe(false);
  });
});
