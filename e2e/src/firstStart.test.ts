import type { ChildProcess } from 'node:child_process';
import { once } from 'node:events';
import { mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { freePort } from '@chronicon/server/freePort';
import { AGENCY_REGISTRATION, DEMO_TOKEN, type Simulators, SMTP_ACCOUNT, startSimulators } from '@chronicon/simulators';
import { getDocument } from 'pdfjs-dist/legacy/build/pdf.mjs';
import type { Browser } from 'puppeteer-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { seriousFaults } from './accessibility.ts';
import { openBrowser, Person } from './browser.ts';
import { firstAddress, runStart } from './launch.ts';

const data = mkdtempSync(join(tmpdir(), 'chronicon-start-'));
let browser: Browser;
let simulators: Simulators;
const running: ChildProcess[] = [];

async function start() {
  const started = await runStart(data);
  running.push(started.child);
  return started;
}

beforeAll(async () => {
  browser = await openBrowser();
  // A day ahead: on the first of a month, too, it has counted the whole month before.
  simulators = await startSimulators({ smtpPort: await freePort(), offset: 86_400_000 });
});
afterAll(async () => {
  await browser?.close();
  for (const child of running) {
    if (child.exitCode !== null) continue;
    child.kill('SIGTERM');
    await once(child, 'exit');
  }
  await simulators?.close();
  rmSync(data, { recursive: true, force: true, maxRetries: 5, retryDelay: 200 });
});

/** A person whose every press, typed field and address is counted. */
class Counted extends Person {
  readonly steps: string[] = [];
  override async press(name: string, role = ''): Promise<void> {
    this.steps.push(`press ${name}`);
    await super.press(name, role);
  }
  override async pressText(text: string): Promise<void> {
    this.steps.push(`press ${text}`);
    await super.pressText(text);
  }
  override async fill(label: string, text: string, role = ''): Promise<void> {
    this.steps.push(`fill in ${label}`);
    await super.fill(label, text, role);
  }
  override async choose(selector: string, value: string): Promise<void> {
    this.steps.push(`choose ${value}`);
    await super.choose(selector, value);
  }
  override async goes(url: string): Promise<void> {
    this.steps.push('open an address');
    await super.goes(url);
  }
}

const READER = 'petra.lund@tarnbeck.example';

describe('whoever installs it', () => {
  it('comes from an empty folder to a PDF in a contact’s mailbox, through the interface alone', async () => {
    const first = await start();
    const address = await firstAddress(first);
    const { origin } = new URL(address);
    const passerBy = new Person(await (await browser.createBrowserContext()).newPage());
    await passerBy.goes(origin);
    await passerBy.sees('No agency yet');
    expect(await passerBy.reads()).not.toContain('This is a demo. Sign in as:');

    const person = new Counted(await (await browser.createBrowserContext()).newPage());
    await person.goes(address);
    await person.sees('Set up your agency');
    expect(await seriousFaults(person.page)).toEqual([]);
    await person.press('Create agency', 'button');
    await person.sees('Enter a name.');
    await person.fill('Name', 'Fernglass Media');
    await person.fill('Sender address', 'reports@fernglass.example');
    await person.fill('Postal address', 'Quay 7, Harbour Town');
    await person.fill('Your name', 'Ines Tallow');
    await person.fill('Your email address', 'ines@fernglass.example');
    await person.fill('Password', 'walrus umbrella 7 teaspoons');
    await person.press('Create agency', 'button');

    // The mail server is tried by a real mail before it is saved; a wrong password is told in its own words.
    await person.sees('Set up email');
    expect(await seriousFaults(person.page)).toEqual([]);
    await person.fill('Host', '127.0.0.1');
    await person.choose('select:has(option[value="never"])', 'never');
    await person.fill('Port', String(simulators.smtp.port));
    await person.fill('User', SMTP_ACCOUNT.user);
    await person.fill('Password', 'not this one');
    await person.press('Test and save', 'button');
    await person.sees('rejected our sign-in: 535');
    await person.fill('Password', SMTP_ACCOUNT.password);
    await person.press('Test and save', 'button');

    await person.sees('New client');
    expect(person.page.url()).toBe(`${origin}/clients/new`);
    await person.fill('Name', 'Tarnbeck Pottery');
    await person.fill('Client since', '2025-03-03');
    await person.press('Create client', 'button');
    await person.sees('Data health');
    await person.press('Contacts', 'link');
    await person.fill('First name', 'Petra');
    await person.fill('Email address', READER);
    await person.press('Add contact', 'button');
    await person.sees(READER);

    // The agency's own registration at a service, which is tried, too.
    await person.press('IT: Ines Tallow, owner', 'button');
    await person.press('Settings', 'menuitem');
    await person.press('Services', 'link');
    await person.press('Set Web analytics', 'button');
    await person.fill('Address', `${simulators.url}/services/web-analytics/v1`, 'textbox');
    await person.fill('Client id', AGENCY_REGISTRATION.clientId);
    await person.fill('Client secret', AGENCY_REGISTRATION.clientSecret);
    await person.press('Test and save', 'button');
    await person.press('Change Web analytics', 'button');

    await person.press('Clients', 'link');
    await person.press('Tarnbeck Pottery', 'link');
    await person.press('Feeds', 'link');
    await person.pressText('By account number and token');
    await person.fill('Account number', 'wa-2502');
    await person.fill('Access token', DEMO_TOKEN);
    await person.press('Connect and fetch', 'button');
    await person.sees('● up to');
    await person.press('Reports', 'link');
    await person.press('Create report', 'button');
    await person.sees('Revenue per day');
    await person.press('Release …', 'button');
    await person.press('Release it', 'button');
    await person.sees('Released');
    await person.press('Create an edition', 'button');
    await person.press('Petra', 'checkbox');
    await person.press('Create and review for 1 reader', 'button');
    await person.pressText('Send to ');
    await person.sees('accepted');

    const mail = simulators.mails.list(READER)[0]!;
    const { parsed } = (await simulators.mails.read(mail.id))!;
    const pdf = parsed.attachments.find((a) => a.contentType === 'application/pdf');
    expect(pdf!.content.subarray(0, 5).toString()).toBe('%PDF-');
    expect(parsed.text).toContain('Quay 7, Harbour Town');
    const drawn = await getDocument({ data: new Uint8Array(pdf!.content) }).promise;
    const words = (await (await drawn.getPage(1)).getTextContent()).items
      .map((i) => ('str' in i ? i.str : ''))
      .join(' ');
    expect(words).toContain('Prepared by Fernglass Media for Tarnbeck Pottery');
    console.log(`  ${person.steps.length} actions: ${person.steps.join(', ')}`);
    expect(person.steps.length).toBeLessThan(60);

    // No secret of it is in a log line or a file of the agency.
    const secrets = [
      new URL(address).hash.slice(1),
      SMTP_ACCOUNT.password,
      AGENCY_REGISTRATION.clientSecret,
      DEMO_TOKEN,
    ];
    for (const secret of secrets.slice(1)) expect(first.said()).not.toContain(secret);
    for (const file of readdirSync(data).filter((n) => n.includes('.db'))) {
      for (const secret of secrets) expect(readFileSync(join(data, file)).includes(secret), file).toBe(false);
    }
    // Nothing of a demo is there.
    const response = await person.page.evaluate(async () => (await fetch('/api/sign-in')).json());
    expect(response).toMatchObject({ demo: null, first: null });
    await passerBy.goes(address);
    await passerBy.sees('Sign in');

    const second = await start();
    await once(second.child, 'exit');
    expect(second.said()).toContain(`A server already runs on ${data}`);

    // Told twice, as by a terminal and by what started it: it ends in order, once.
    first.child.kill('SIGINT');
    first.child.kill('SIGINT');
    expect(await once(first.child, 'exit')).toEqual([0, null]);
  });
});
