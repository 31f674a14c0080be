import { describe, expect, it } from 'vitest';
import { keyOf } from '../figures/index.ts';
import { contrast, type Frozen } from '../page/index.ts';
import { wordsFor } from '../words/index.ts';
import { composeMail, type MailTexts, mailHtml, mailPlain, picturesOf } from './index.ts';

const period = { from: '2026-10-01', to: '2026-10-31' };
const compared = { from: '2026-09-01', to: '2026-09-30' };
const total = (metric: string, range: typeof period) => keyOf({ op: 'total', metric, range, filter: {} });

const frozen = {
  order: {
    clientName: 'Smith & Sons <Ltd>',
    agencyName: 'Fernglass Media',
    title: 'Monthly / overview',
    document: { filter: [] },
    period,
    compared,
    brand: { main: '#2f6b3a', second: '#b8862d', footer: '', logo: null },
    language: 'en-GB',
    currency: 'GBP',
  },
  answers: {
    [total('visits', period)]: { op: 'total', value: { value: 31_062 } },
    [total('visits', compared)]: { op: 'total', value: { value: 29_676 } },
    [total('orders', period)]: { op: 'total', value: { na: 'not-covered' } },
    // A day of October has not come.
    [total('revenue', period)]: { op: 'total', value: { value: 1_900, partial: true, share: 30 / 31 } },
    [total('revenue', compared)]: { op: 'total', value: { value: 950 } },
  },
} as unknown as Frozen;

const people = {
  firstName: 'Ines <b>',
  manager: { name: 'Joren Vask', email: 'joren@fernglass.example' },
  number: '7',
};
const words = wordsFor('en-GB');
const write = (of: Frozen, texts: MailTexts, to = people) => {
  const made = composeMail(of, texts, to, { isTest: false });
  if (!made.ok) throw new Error(made.fault.field);
  const { subject, fileName } = made.mail;
  return {
    subject,
    fileName,
    html: mailHtml(made.mail),
    text: mailPlain(made.mail, words),
    pictures: picturesOf(made.mail),
  };
};
const mail = (subject: string, message = 'Hello') => write(frozen, { subject, message });

describe('the look of a mail', () => {
  const HEAD = '5'.repeat(64);
  const madeBy = (brand: object) => {
    const branded = { ...frozen, order: { ...frozen.order, brand: { ...frozen.order.brand, ...brand } } } as Frozen;
    return write(branded, { subject: 'x', message: 'Hello' });
  };

  it('is a plain letter, or a sheet under a band with the client’s name, in words that are read on it', () => {
    const letter = madeBy({});
    expect(letter.html).toContain('background:#2f6b3a;height:4px');
    expect(letter.html).toContain('Georgia');
    const sheet = madeBy({ mailLook: 'sheet', main: '#ffff00', typefaces: { text: 'inter', heads: 'lora' } });
    const [, band] = /background:(#[0-9a-f]{6});padding:14px 28px;color:#ffffff/.exec(sheet.html)!;
    expect(contrast(band!, '#ffffff')).toBeGreaterThanOrEqual(4.5);
    expect(sheet.html).toContain('Smith &amp; Sons &lt;Ltd&gt;</td>');
    expect(sheet.html).toContain('Arial');
    expect(sheet.text).toBe(letter.text);
  });

  it('has the picture at its head that the kit has, which goes with it and is never fetched', () => {
    const mailHead = { kind: 'image', file: HEAD, type: 'image/jpeg', width: 1120, height: 200, pale: false };
    const { html, pictures } = madeBy({ mailHead });
    expect(pictures).toEqual([{ cid: `${HEAD}@mail`, file: HEAD, width: 600, height: 107 }]);
    expect(html).toContain(`src="cid:${HEAD}@mail"`);
    expect(html).toContain('alt="Fernglass Media"');
    expect(html).not.toMatch(/https?:/);
    expect(madeBy({}).pictures).toEqual([]);
  });
});

describe('a mail', () => {
  it('says the figures as the page does, with their change', () => {
    const made = mail(
      '{{period.label}}',
      'Visits: {{figure.visits}} ({{change.visits}}), against {{comparison.label}}.',
    );
    expect(made.subject).toBe('October 2026');
    expect(made.text).toContain('Visits: 31,062 (+4.7%), against September 2026.');
    expect(made.text).toContain('Attached: Monthly / overview, October 2026');
  });

  it('escapes values where they land: in HTML, in the subject, in the file’s name', () => {
    const made = mail('For {{client.name}}', 'Dear {{contact.firstName}},\n\nfrom {{client.name}}.');
    expect(made.html).toContain('Dear Ines &lt;b&gt;,');
    expect(made.html).not.toContain('Ines <b>');
    expect(made.html).toContain('Smith &amp; Sons &lt;Ltd&gt;');
    expect(made.subject).toBe('For Smith & Sons <Ltd>');
    expect(made.fileName).toMatch(/^[^/\\<>:*?"|]+\.pdf$/);
  });

  it('greets many, or nobody by name, with a plain hello; a fallback of one’s own stands', () => {
    const nameless = { ...people, firstName: '' };
    const greeted = (message: string, to = nameless) => write(frozen, { subject: 'x', message }, to).text;
    expect(greeted('Hello {{contact.firstName | there}},')).toContain('Hello,');
    expect(greeted('Hello {{contact.firstName | there}},', people)).toContain('Hello Ines <b>,');
    expect(greeted('Dear {{contact.firstName | all of you}},')).toContain('Dear all of you,');
  });

  it('keeps paragraphs and lines in both forms, and fetches nothing', () => {
    const made = mail('x', 'One\ntwo\n\nthree');
    expect(made.html).toMatch(/One<br>two<\/p>\s*<p[^>]*>three/);
    expect(made.text).toContain('One\ntwo\n\nthree');
    expect(made.html).not.toMatch(/https?:|<img/);
  });

  it.each([
    ['a figure that was not delivered', '{{figure.orders}}', 'unresolved', 'figure.orders'],
    ['a change without its other side', '{{change.orders}}', 'unresolved', 'change.orders'],
    ['a field that does not exist', '{{client.nickname}}', 'unknown-field', 'client.nickname'],
  ])('is not written with %s', (_, message, code, field) => {
    expect(composeMail(frozen, { subject: 'x', message }, people, { isTest: false })).toMatchObject({
      ok: false,
      fault: { code, field },
    });
  });

  it('says how many days a figure knows, and tells no change of it; neither stops the mail', () => {
    const made = mail('Revenue {{figure.revenue}}', '{{change.revenue}} / {{change.revenue | see the note}}');
    expect(made.subject).toBe('Revenue £1,900 (30 of 31 days)');
    expect(made.text).toContain('not comparable / see the note');
  });

  it('uses a fallback where one is given', () => {
    const made = mail('{{figure.orders | many}} orders');
    expect(made.subject).toBe('many orders');
  });
});
