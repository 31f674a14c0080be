import { describe, expect, it } from 'vitest';
import { seriousFaults } from './accessibility.ts';
import { Person } from './browser.ts';
import { useFixture } from './fixture.ts';

const fixture = useFixture();

interface Mail {
  to: string;
  subject: string;
  messageId: string;
}
const mailsTo = async (to: string): Promise<Mail[]> =>
  (await (await fetch(`${fixture().demo.simulators}/api/mails?to=${to}`)).json()) as Mail[];
const tellMail = (body: object) =>
  fetch(`${fixture().demo.simulators}/admin/mail`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify(body),
  });
const orla = 'orla.fenwick@mosswick.example';

describe('the mail of a report', () => {
  it('is designed, tried on oneself, seen as each reader gets it, and sent; one comes back, is corrected, and gets it alone', async () => {
    const { demo, newPage } = fixture();
    const person = new Person(await newPage());
    const { page } = person;
    await person.comesIn(demo.url, 'Ines Tallow');
    const ask = <T>(path: string) => page.evaluate(async (p) => (await fetch(p)).json(), path) as Promise<T>;
    const clients = await ask<{ id: string; name: string }[]>('/api/clients/names');
    const { id: client } = clients.find((c) => c.name === 'Mosswick Botanic Garden')!;
    const [schedule] = await ask<{ id: string }[]>(`/api/clients/${client}/schedules`);

    // Designed: another preview, a button, and the answer before the message.
    await person.goes(`${demo.url}/schedules/${schedule!.id}`);
    await page.waitForSelector('.mail-frame iframe');
    await person.fill('Preview', 'How {{period.label}} went', 'textbox');
    await person.press('Add a part', 'button');
    await page.locator('::-p-text(links to any address)').click();
    await person.fill('Label', 'See the walk-through', 'textbox');
    await person.fill('Leads to', 'https://walk.example/october', 'textbox');
    const shows = (text: string) =>
      page.waitForFunction(
        (t) =>
          document
            .querySelector<HTMLIFrameElement>('.mail-frame iframe')
            ?.contentDocument?.body.textContent?.includes(t),
        { polling: 100 },
        text,
      );
    const said = () =>
      page.$eval('.mail-frame iframe', (f) => (f as HTMLIFrameElement).contentDocument?.body.textContent ?? '');
    await shows('See the walk-through');
    expect(await said()).toContain('Hello Orla');
    // As it reaches the others.
    const readers = await page.$$eval('.mail-as-read select option', (all) =>
      all.map((o) => (o as HTMLOptionElement).value),
    );
    expect(readers).toHaveLength(3);
    for (const [i, name] of ['Orla', 'Tobin', 'Sunniva'].entries()) {
      await page.select('.mail-as-read select', readers[i]!);
      await shows(`Hello ${name}`);
    }
    expect(await seriousFaults(page)).toEqual([]);
    await person.press('Save changes', 'button');
    await person.sees('Saved');

    // Tried on oneself.
    await person.press('Send me a test', 'button');
    await person.sees('View test');
    const own = await expectMail('ines.tallow@fernglass.example', /^\[Test\] /);
    expect(own.subject).toContain('[Test] Monthly overview');

    // Made by hand, seen before it goes, and sent.
    const made = await page.evaluate(async (id) => {
      const { csrf } = await (await fetch('/api/session')).json();
      const headers = { 'content-type': 'application/json', 'x-csrf-token': csrf };
      const body = JSON.stringify({ of: 'last' });
      return (await fetch(`/api/schedules/${id}/make`, { method: 'POST', headers, body })).json();
    }, schedule!.id);
    const { editionId } = made as { editionId: string };
    await tellMail({ bouncing: { [orla]: '5.1.1' } });
    const had = await mailsTo(orla);
    const before = (await mailsTo('tobin.aske@mosswick.example')).length;
    await person.goes(`${demo.url}/editions/${editionId}`);
    await person.press('Email', 'button');
    await page.waitForSelector('.mail-frame iframe');
    await person.pressText('Send to ');
    await person.press('Deliveries', 'button');
    await person.sees('bounced');
    await person.sees('This address doesn’t exist.');
    expect(await seriousFaults(page)).toEqual([]);
    expect(await mailsTo('tobin.aske@mosswick.example')).toHaveLength(before + 1);

    // Corrected, and sent to that one alone.
    await person.press('Correct an address or add a reader', 'link');
    await person.sees('is marked as bounced');
    await person.press('Change Orla', 'button');
    await person.fill('Email address', 'o.fenwick@mosswick.example', 'textbox');
    await person.press('Save', 'button');
    await person.sees('o.fenwick@mosswick.example');
    await person.goes(`${demo.url}/editions/${editionId}?show=deliveries`);
    await person.press('Resend to Orla Fenwick', 'button');
    await person.press('Confirm: resend to Orla Fenwick', 'button');
    await person.sees('Resending 1 email');
    await expectMail('o.fenwick@mosswick.example', /Monthly overview/);
    await person.sees('sent again by Ines Tallow');
    expect(await mailsTo('tobin.aske@mosswick.example')).toHaveLength(before + 1);
    expect(await mailsTo(orla)).toEqual(had);
  });
});

describe('the mails of the demo', () => {
  it('keep their figures and their order by day, by night, on a phone and without pictures; none is wider than the phone', async () => {
    const { demo, newPage } = fixture();
    const person = new Person(await newPage());
    await person.comesIn(demo.url, 'Ines Tallow');
    const ask = <T>(path: string) => person.page.evaluate(async (p) => (await fetch(p)).json(), path) as Promise<T>;
    const { editions } = await ask<{ editions: { id: string; clientName: string; state: string }[] }>('/api/editions');
    const sent = editions.filter((e) => e.state === 'sent');
    const one = [...new Map(sent.map((e) => [e.clientName, e.id])).values()];
    expect(one.length).toBeGreaterThanOrEqual(4);
    const shown = await newPage();
    for (const edition of one) {
      const { mails } = await ask<{ mails: { reader: string }[] }>(`/api/editions/${edition}/review`);
      const of = async (scheme: string) =>
        (await ask<{ html: string }>(`/api/editions/${edition}/mails/${mails[0]!.reader}?scheme=${scheme}`)).html;
      const look = async (html: string, width: number) => {
        await shown.setViewport({ width, height: 900 });
        await shown.setContent(html);
        return shown.evaluate(() => ({
          said: document.body.innerText.replace(/\s+/g, ' '),
          wide: document.documentElement.scrollWidth,
        }));
      };
      const light = await of('light');
      const day = await look(light, 1280);
      const night = await look(await of('dark'), 1280);
      const phone = await look(light, 390);
      const plain = await look(light.replace(/<img [^>]*>/g, ''), 390);
      expect(day.said.length).toBeGreaterThan(300);
      for (const other of [night, phone, plain]) expect(other.said).toBe(day.said);
      expect([edition, phone.wide]).toEqual([edition, 390]);
    }
  });
});

async function expectMail(to: string, subject: RegExp): Promise<Mail> {
  for (let i = 0; i < 600; i++) {
    const found = (await mailsTo(to)).find((m) => subject.test(m.subject));
    if (found) return found;
    await new Promise((r) => setTimeout(r, 100));
  }
  throw new Error(`no mail to ${to}`);
}
