import { DEMO_TOKEN, type Fault, SERVICES, type Simulators, startSimulators } from '@chronicon/simulators';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { freePort } from '../test/freePort.ts';
import { type Finding, tryService } from './conformance.ts';

const NOW = '2026-11-02T08:42:00Z';
let simulators: Simulators;

beforeAll(async () => {
  simulators = await startSimulators({ smtpPort: await freePort(), offset: Date.parse(NOW) - Date.now() });
});
afterAll(() => simulators.close());

async function findings(kind: string, account: string, token = DEMO_TOKEN, timeout = 10_000): Promise<Finding[]> {
  const out: Finding[] = [];
  const address = `${simulators.url}/services/${kind}/v1`;
  for await (const f of tryService({ address, account, token, now: NOW, timeout })) out.push(f);
  return out;
}

describe('the test of feed services', () => {
  it.each(SERVICES.map((s) => [s.kind, s.accounts[0]!.id] as const))(
    'finds nothing wrong with %s',
    async (kind, id) => {
      const found = await findings(kind, id);
      expect(found.filter((f) => f.fault !== null)).toEqual([]);
      expect(found.length).toBeGreaterThan(10);
    },
  );

  it.each<[Fault, RegExp]>([
    ['down', /answered 500/],
    ['refused', /answered 401/],
    ['broken', /no JSON/],
    ['slow', /The service didn’t respond within/],
  ])('finds a service that is %s', async (fault, words) => {
    simulators.faults.set('ca-3310', fault);
    const faults = (await findings('calls', 'ca-3310', DEMO_TOKEN, 1_000)).flatMap((f) => f.fault ?? []);
    simulators.faults.set('ca-3310', 'none');
    expect(faults.join('\n')).toMatch(words);
  });

  it('finds what has no such account, and what nobody answers', async () => {
    expect((await findings('calls', 'ca-0000')).some((f) => f.fault?.includes('is not in the list'))).toBe(true);
    const refused = await findings('calls', 'ca-3310', 'wrong');
    expect(refused.find((f) => f.rule.startsWith('the catalogue'))!.fault).toContain('answered 401');
  });
});
