import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { canConfirm, changesOf, describeDifferences, differencesFrom, hostOf, suggestClients } from './index.ts';

const reed = {
  id: 'cl_1',
  name: 'Reed & Rush Basketry',
  site: 'reedrush.example',
  zone: 'Europe/London',
  currency: 'GBP',
};
const account = {
  id: 'a-1',
  name: 'Reed & Rush',
  site: 'https://www.reedrush.example/',
  zone: 'Europe/London',
  currency: 'GBP',
};

describe('a fingerprint', () => {
  it('takes a site for what it is, however it is written', () => {
    for (const site of [
      'reed.example',
      'https://www.reed.example/shop?x=1',
      'REED.example.',
      'http://reed.example:8080',
    ]) {
      expect(hostOf(site)).toBe('reed.example');
    }
  });

  it('finds nothing wrong with an account that looks like the client’s', () => {
    expect(differencesFrom(reed, account)).toEqual([]);
    expect(differencesFrom(reed, { ...account, name: 'Ads 2024', site: 'shop.reedrush.example' })).toEqual([]);
    expect(differencesFrom({ ...reed, site: '' }, account)).toEqual([]);
  });

  it('says what is unlike, and lets money of another currency pass by nobody’s word', () => {
    const other = differencesFrom(reed, { ...account, name: 'Harrow Mill', site: 'harrowmill.example' });
    expect(other.map((d) => d.field)).toEqual(['site', 'name']);
    expect(describeDifferences(other)).toContain('site harrowmill.example, not reedrush.example');
    expect(canConfirm(other)).toBe(true);
    const money = differencesFrom(reed, { ...account, currency: 'EUR' });
    expect(describeDifferences(money)).toBe('currency EUR, not GBP');
    expect(canConfirm(money)).toBe(false);
  });

  it('is the same as itself, and tells every field that changed', () => {
    const field = fc.constantFrom('id', 'name', 'site', 'zone', 'currency');
    fc.assert(
      fc.property(field, fc.string({ minLength: 1 }), (key, text) => {
        expect(changesOf(account, account)).toEqual([]);
        const changed = { ...account, [key]: `${hostOf(account[key as 'id'])}${text.replace(/\W/g, '')}x` };
        expect(changesOf(account, changed).map((d) => d.field)).toEqual([key]);
      }),
    );
  });
});

describe('matching accounts with clients', () => {
  const clients = [
    reed,
    { id: 'cl_2', name: 'Harrow Mill', site: 'harrowmill.example', zone: 'Europe/London', currency: 'GBP' },
    { id: 'cl_3', name: 'Harrow Mill Café', site: '', zone: 'Europe/London', currency: 'GBP' },
    { id: 'cl_4', name: 'Penwick Dairy', site: '', zone: 'Europe/London', currency: 'GBP' },
  ];
  const of = (name: string, site: string) => suggestClients([{ ...account, name, site }], clients)[0];

  it('goes by the site first, then by the name', () => {
    expect(of('Something else', 'www.harrowmill.example')).toMatchObject({ clientId: 'cl_2', by: 'site' });
    expect(of('PENWICK dairy (main)', '')).toMatchObject({ clientId: 'cl_4', by: 'name', differences: [] });
    expect(of('Harrow Mill Cafe', 'unknown.example')).toMatchObject({ clientId: 'cl_3', by: 'name' });
  });

  it('suggests nobody rather than somebody', () => {
    expect(of('Quarry Lane', 'quarry.example')).toBeNull();
    // Both mills have these two words and nothing else to tell them apart.
    const mills = [1, 2].map((n) => ({ ...reed, id: `m${n}`, name: 'Harrow Mill', site: '' }));
    expect(suggestClients([{ ...account, name: 'Harrow Mill', site: '' }], mills)).toEqual([null]);
  });
});
