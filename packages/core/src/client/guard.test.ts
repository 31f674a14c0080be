import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { domainOf, guard, isUsualAddress, splitDomains } from './index.ts';

const client = { domains: 'mosswick.example, shop.mosswick.example', site: 'https://www.moss-garden.example/visit' };
const contact = { email: 'orla@mosswick.example', standing: 'reads' as const, approved: '' };

describe('the guard', () => {
  it('lets through who is at a usual domain, below one, or at the domain of the site', () => {
    for (const email of [
      'orla@mosswick.example',
      'Orla@MOSSWICK.example',
      'x@mail.mosswick.example',
      'x@moss-garden.example',
    ]) {
      expect(guard(client, { ...contact, email })).toBeNull();
    }
  });

  it('asks of any other address, look-alikes among them, until that very address is approved', () => {
    for (const email of [
      'orla@mosswick.example.org',
      'orla@notmosswick.example',
      'x@example',
      'orla@mosswick.exampl',
      'mosswick.example@y.example',
    ]) {
      expect(guard(client, { ...contact, email })).toBe('outside');
      expect(guard(client, { ...contact, email, approved: email })).toBeNull();
      expect(guard(client, { ...contact, email: `a${email}`, approved: email })).toBe('outside');
    }
  });

  it('stops who left or whose mails came back, approved or not', () => {
    expect(guard(client, { ...contact, standing: 'left', approved: contact.email })).toBe('left');
    expect(guard(client, { ...contact, standing: 'bounced' })).toBe('bounced');
  });

  it('never takes an address for usual whose domain ends otherwise', () => {
    fc.assert(
      fc.property(fc.emailAddress(), fc.array(fc.domain(), { minLength: 1, maxLength: 4 }), (email, domains) => {
        const usual = isUsualAddress({ domains: domains.join(' '), site: '' }, email);
        const own = domainOf(email);
        expect(usual).toBe(splitDomains(domains.join(' ')).some((d) => own === d || own.endsWith(`.${d}`)));
      }),
    );
  });
});
