import { Secret, TOTP } from 'otpauth';
import { beforeAll, describe, expect, it } from 'vitest';
import { seriousFaults } from './accessibility.ts';
import { Person } from './browser.ts';
import { useFixture } from './fixture.ts';
import type { RunningDemo } from './launch.ts';

const NEW = 'sanne.okafor@fernglass.example';
const PASSPHRASE = 'walrus umbrella 7 teaspoons';

let demo: RunningDemo;
let owner: Person;

const fixture = useFixture();
beforeAll(async () => {
  demo = fixture().demo;
  owner = new Person(await fixture().newPage());
  await owner.comesIn(demo.url, 'Ines Tallow');
});

/** The address in the newest mail to somebody, as a reader of it follows. */
async function linkFor(to: string, subject: string): Promise<string> {
  const mail = new Person(await fixture().newPage());
  for (let i = 0; i < 200; i++) {
    await mail.goes(`${demo.simulators}/mailbox?to=${to}`);
    if ((await mail.reads()).includes(subject)) break;
  }
  await mail.pressText(subject);
  await mail.settles();
  const found = await mail.page.evaluate(() => {
    const frame = document.querySelector('iframe')?.contentDocument?.body.textContent ?? '';
    return /http\S+\/link#[\w-]+/.exec(`${document.body.textContent} ${frame}`)?.[0] ?? null;
  });
  await mail.page.close();
  return found!.replace('localhost', '127.0.0.1');
}

describe('an owner', () => {
  it('invites somebody, who comes in by the mail, sees the clients they were given, and sets up a second factor', async () => {
    await owner.turnsTo('/people');
    await owner.press('Invite a member', 'button');
    await owner.fill('Name', 'Sanne Okafor');
    await owner.fill('Email address', 'joren.vask@fernglass.example');
    await owner.press('Send invitation', 'button');
    await owner.sees('Joren Vask already has this address.');
    await owner.fill('Email address', NEW);
    await owner.press('Clients', 'combobox');
    await owner.press('Quillon Cycle Works', 'option');
    await owner.page.keyboard.press('Escape');
    await owner.press('Send invitation', 'button');
    await owner.sees(`Invitation sent to ${NEW}`);
    expect(await seriousFaults(owner.page)).toEqual([]);

    const sanne = new Person(await fixture().newPage());
    const link = await linkFor(NEW, 'Ines Tallow invited you');
    await sanne.goes(link);
    await sanne.sees('invited you, Sanne Okafor');
    expect(await seriousFaults(sanne.page)).toEqual([]);
    await sanne.fill('Password', 'sanneokafor2026');
    await sanne.fill('Confirm password', 'sanneokafor2026');
    await sanne.press('Accept invitation', 'button');
    await sanne.sees('Too easy to guess');
    await sanne.fill('Password', PASSPHRASE);
    await sanne.fill('Confirm password', PASSPHRASE);
    await sanne.press('Accept invitation', 'button');
    await sanne.sees('Needs attention');
    await sanne.turnsTo('/clients');
    await sanne.sees('Quillon Cycle Works');
    expect(await sanne.reads('#root main')).not.toContain('Oatmere');

    await sanne.turnsTo('/me');
    await sanne.press('Set up two-factor authentication', 'button');
    await sanne.fill('Confirm your password', PASSPHRASE);
    await sanne.press('Continue', 'button');
    await sanne.sees('Scan this with an authenticator app');
    const secret = (await sanne.reads('code.breaks')).replace(/\s/g, '');
    const code = () => new TOTP({ secret: Secret.fromBase32(secret) }).generate();
    await sanne.fill('Code', code());
    await sanne.press('Set up', 'button');
    await sanne.sees('Save these recovery codes');
    const recovery = (await sanne.reads('pre.codes')).split('\n')[0]!;
    await sanne.press('I’ve saved them', 'button');
    await sanne.sees('10 recovery codes left');

    // The link is used up; the password alone opens nothing any more.
    const again = new Person(await fixture().newPage());
    await again.goes(link);
    await again.sees('This link isn’t valid');
    await again.goes(demo.url);
    await again.fill('Email address', NEW);
    await again.fill('Password', PASSPHRASE);
    await again.press('Sign in', 'button');
    await again.sees('From your authenticator app, or a recovery code');
    await again.fill('Code', '000000');
    await again.press('Sign in', 'button');
    await again.sees('Wrong or already used code');
    await again.fill('Code', recovery);
    await again.press('Sign in', 'button');
    await again.sees('Needs attention');
  });

  it('hands a manager’s clients over before they leave, and they are out at once', async () => {
    const joren = new Person(await fixture().newPage());
    await joren.comesIn(demo.url, 'Joren Vask');
    await owner.turnsTo('/people');
    await owner.press('More for Joren Vask', 'button');
    await owner.press('Deactivate', 'menuitem');
    await owner.sees('Brackenhollow Physio, Oatmere Dairy Co-op, Quillon Cycle Works');
    await owner.choose('select:has(option[value=""])', await idOf('Sanne Okafor'));
    await owner.press('Hand over and deactivate', 'button');
    await owner.sees('Joren Vask is deactivated.');
    await joren.goes(demo.url);
    await joren.sees('Sign in as');
    await owner.turnsTo('/clients');
    await owner.page.waitForFunction(() => document.querySelector('main')?.textContent?.includes('Mosswick'));
    const managers = await owner.reads('#root main');
    expect([managers.includes('Sanne Okafor'), managers.includes('Joren Vask')]).toEqual([true, false]);
    // And back, as somebody comes back.
    await owner.turnsTo('/people');
    await owner.press('More for Joren Vask', 'button');
    await owner.press('Reactivate', 'menuitem');
    await owner.sees('Joren Vask is active again');
    await joren.pressText('Joren Vask');
    await joren.sees('Needs attention');
  });

  const idOf = (name: string) =>
    owner.page.evaluate(async (n) => {
      const people = (await (await fetch('/api/colleagues')).json()) as { id: string; name: string }[];
      return people.find((p) => p.name === n)!.id;
    }, name);

  it('brings clients out of CSV, narrows lists by a tag, and puts one aside', async () => {
    await owner.turnsTo('/clients/import');
    const rows = [
      'Client,Tags,First name,Last name,Email',
      'Skerry Boats,Travel,Odd,Skarre,odd@skerry.example',
      'Fen Books,,Nil,,nil at fen',
    ].join('\n');
    await owner.fill('Rows', rows);
    await owner.press('Preview', 'button');
    await owner.sees('1 new client, 1 new contact, 1 row skipped');
    await owner.sees('Adds the contact Odd Skarre, odd@skerry.example.');
    expect(await seriousFaults(owner.page)).toEqual([]);
    await owner.press('Import all except 1 row', 'button');
    await owner.sees('Done');
    await owner.press('View clients', 'link');
    await owner.sees('Skerry Boats');
    await owner.press('Scope', 'combobox');
    await owner.press('Travel', 'option');
    await owner.page.waitForFunction(() => !document.querySelector('#root main')?.textContent?.includes('Oatmere'));
    await owner.sees('Skerry Boats');
    // The scope stays when the place changes, and when the page is loaded anew.
    await owner.press('Archive', 'link');
    await owner.settles();
    expect(new URL(owner.page.url()).search).toBe('?scope=tag%3ATravel');
    await owner.goes(owner.page.url());
    expect(await owner.reads('#root main')).not.toContain('Oatmere');

    await owner.turnsTo('/clients');
    await owner.press('Skerry Boats', 'link');
    await owner.press('Set-up', 'link');
    await owner.press('Deactivate client', 'button');
    await owner.sees('Schedules stop, feeds pause');
    await owner.press('Deactivate now', 'button');
    await owner.sees('inactive: nothing runs');
    await owner.press('Reactivate', 'button');
    await owner.page.waitForFunction(() => !document.body.textContent?.includes('○ inactive: nothing runs'));
    expect(await seriousFaults(owner.page)).toEqual([]);
  });
});

describe('whoever forgot the password', () => {
  it('sets another one by the link of a mail', async () => {
    const mirel = new Person(await fixture().newPage());
    await mirel.goes(demo.url);
    await mirel.pressText('Forgot password?');
    await mirel.fill('Email address', 'mirel.oke@fernglass.example');
    await mirel.press('Email me a link', 'button');
    await mirel.sees('If this address has an account');
    // An old link first: the new one opens in the same tab.
    await mirel.goes(`${demo.url}/link#AAAAAAAAAAAAAAAAAAAAAA`);
    await mirel.sees('This link isn’t valid');
    await mirel.goes(await linkFor('mirel.oke@fernglass.example', 'Set a new password'));
    await mirel.sees('You’ll be signed out everywhere');
    await mirel.fill('Password', PASSPHRASE);
    await mirel.fill('Confirm password', PASSPHRASE);
    await mirel.press('Set password', 'button');
    await mirel.sees('Needs attention');
  });
});

describe('settings and people', () => {
  it('can be used by those who do not see them, on a desk and on a phone: nothing serious is found', async () => {
    const places = ['', '/mail', '/services', '/holidays', '/defaults', '/sign-in', '/server'].map(
      (p) => `/settings${p}`,
    );
    for (const place of [...places, '/people', '/me', '/clients/import']) {
      await owner.turnsTo(place);
      expect([place, await seriousFaults(owner.page)]).toEqual([place, []]);
    }
  });

  it('take holidays from an iCalendar file, and give a client another calendar', async () => {
    await owner.turnsTo('/settings/holidays');
    await owner.press('New calendar', 'button');
    await owner.fill('Name', 'Harbour towns');
    const [, inCalendar] = await owner.page.$$('input[type="file"]');
    await owner.page.evaluate((input) => {
      const text = [
        'BEGIN:VCALENDAR',
        'BEGIN:VEVENT',
        'UID:1',
        'DTSTART;VALUE=DATE:20261212',
        'SUMMARY:Herring day',
        'END:VEVENT',
        'END:VCALENDAR',
      ].join('\r\n');
      const files = new DataTransfer();
      files.items.add(new File([text], 'days.ics'));
      (input as HTMLInputElement).files = files.files;
      input!.dispatchEvent(new Event('change', { bubbles: true }));
    }, inCalendar!);
    await owner.sees('The file holds 1 day, from Sat 12 Dec 2026');
    await owner.press('Add 1 day', 'button');
    await owner.sees('Herring day');
    await owner.press('Save', 'button');
    await owner.sees('Harbour towns');
    await owner.turnsTo('/clients');
    await owner.press('Mosswick Botanic Garden', 'link');
    await owner.press('Set-up', 'link');
    await owner.settles();
    const harbour = await owner.page.evaluate(async () => {
      const all = (await (await fetch('/api/calendars')).json()) as { id: string; name: string }[];
      return all.find((c) => c.name === 'Harbour towns')!.id;
    });
    await owner.choose(`select:has(option[value="${harbour}"])`, harbour);
    await owner.press('Save', 'button');
    await owner.sees('Saved');
    await owner.turnsTo('/settings/holidays');
    await owner.sees('1 client');
  });
});
