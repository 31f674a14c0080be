import { type ChildProcess, fork } from 'node:child_process';
import { once } from 'node:events';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Browser } from 'puppeteer-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { seriousFaults } from './accessibility.ts';
import { openBrowser, Person } from './browser.ts';
import { freePort } from './launch.ts';

const data = mkdtempSync(join(tmpdir(), 'chronicon-start-'));
let browser: Browser;
const running: ChildProcess[] = [];

/** Runs `npm start` on the folder. @returns the process, and everything that it says */
async function start(): Promise<{ child: ChildProcess; said(): string }> {
  const child = fork(join(import.meta.dirname, '../../scripts/start.mjs'), {
    stdio: ['ignore', 'pipe', 'pipe', 'ipc'],
    env: { ...process.env, CHRONICON_DATA: data, CHRONICON_PORT: String(await freePort()) },
  });
  running.push(child);
  let said = '';
  for (const stream of [child.stdout, child.stderr]) {
    stream?.on('data', (part: Buffer) => {
      said += part.toString();
    });
  }
  return { child, said: () => said };
}

beforeAll(async () => {
  browser = await openBrowser();
});
afterAll(async () => {
  await browser?.close();
  for (const child of running) {
    if (child.exitCode !== null) continue;
    child.kill('SIGTERM');
    await once(child, 'exit');
  }
  rmSync(data, { recursive: true, force: true, maxRetries: 5, retryDelay: 200 });
});

describe('whoever installs it', () => {
  it('makes the agency at the address that was printed, and is led to the first client', async () => {
    const first = await start();
    await once(first.child, 'message');
    const address = await new Promise<string>((resolve) => {
      const look = () => {
        const found = /within an hour at (\S+)/.exec(first.said())?.[1];
        if (found) resolve(found);
        else setTimeout(look, 50);
      };
      look();
    });
    const person = new Person(await (await browser.createBrowserContext()).newPage());
    const { origin } = new URL(address);
    await person.goes(origin);
    await person.sees('No agency yet');
    await person.goes(address);
    await person.sees('Make your agency');
    expect(await seriousFaults(person.page)).toEqual([]);
    await person.press('Make the agency', 'button');
    await person.sees('Give a name.');
    await person.fill('Name', 'Fernglass Media');
    await person.fill('Reports come from', 'reports@fernglass.example');
    await person.fill('Your name', 'Ines Tallow');
    await person.fill('Your email address', 'ines@fernglass.example');
    await person.fill('Password', 'walrus umbrella 7 teaspoons');
    await person.press('Make the agency', 'button');
    await person.sees('New client');
    expect(person.page.url()).toBe(`${origin}/clients/new`);
    await person.goes(address);
    await person.sees('Page not found');

    const second = await start();
    await once(second.child, 'exit');
    expect(second.said()).toContain(`A server runs on ${data} already`);
  });
});
