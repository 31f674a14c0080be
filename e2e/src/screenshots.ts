import { mkdirSync } from 'node:fs';
import { join } from 'node:path';
import { openBrowser, Person } from './browser.ts';
import { launchDemo } from './launch.ts';

/** Takes one picture of each main view from the demo agency, at 1280x800, into docs/screenshots. */
const folder = process.argv[2] ?? join(import.meta.dirname, '../../docs/screenshots');
mkdirSync(folder, { recursive: true });
const demo = await launchDemo('2026-11-02T08:42:00Z');
const browser = await openBrowser();
try {
  const page = await browser.newPage();
  const person = new Person(page);
  const take = async (name: string) => {
    await page.evaluate(() => document.fonts.ready);
    await page.waitForNetworkIdle({ idleTime: 400, concurrency: 1 }).catch(() => {});
    await page.screenshot({ path: join(folder, `${name}.png`) as `${string}.png` });
    console.log(name);
  };
  const follow = async (name: string) => {
    await person.press(name, 'link');
    await page.waitForNetworkIdle({ idleTime: 300, concurrency: 1 }).catch(() => {});
  };

  await person.goes(demo.url);
  await person.sees('Ines Tallow');
  await take('sign-in');
  await person.pressText('Ines Tallow');
  await person.press('Sign in', 'button');
  await person.sees('Needs you');
  await person.sees('Yesterday');
  await take('desk');

  await follow('Clients');
  await person.sees('Mosswick Botanic Garden');
  await take('clients');
  await follow('Mosswick Botanic Garden');
  await person.sees('Is the data good?');
  await person.sees('through');
  await take('client');
  await follow('Feeds');
  await person.sees('Landing pages');
  await take('feeds');
  await follow('Reports');
  await follow('Monthly overview');
  await person.sees('Saved');
  await person.sees('31,062').catch(() => {});
  await person.pressText('Ranking');
  await take('report');
  await person.press('Schedule', 'link');
  await person.sees('What this does');
  await person.press('Rhythm: the 3rd of each month', 'button');
  await person.sees('on a working day by its number');
  await take('schedule');
  await person.goes(`${demo.url}/archive`);
  await person.sees('sent');
  await take('archive');
  const mosswick = await page.evaluate(async () => {
    const all = (await (await fetch('/api/clients')).json()) as { id: string; name: string }[];
    return all.find((c) => c.name.startsWith('Mosswick'))!.id;
  });
  const figures = `${demo.url}/figures?client=${mosswick}&metrics=revenue,orders,visits,bounceRate`;
  await person.goes(`${figures}&compare=lastYear`);
  await person.sees('nothing came');
  await take('figures');
  await person.goes(`${figures}&by=channel&see=why`);
  await person.sees('Whole change');
  await take('figures-why');
  await person.goes(`${figures}&of=orderRate~2026-10-01..2026-10-31~device=Mobile`);
  await person.press('Show rows', 'button');
  await person.sees('Organic search');
  await take('figures-explained');
  await person.goes(`${demo.url}/clients/${mosswick}/targets`);
  await person.sees('at least');
  await take('targets');
  await person.goes(`${demo.url}/clients/${mosswick}/metrics`);
  await person.press('Add a metric by formula', 'button');
  await person.fill('Name', 'Pages per order', 'textbox');
  await person.fill('Formula', 'pageViews / order', 'textbox');
  await person.sees('At character 13');
  await take('metrics');
  await person.goes(`${demo.standins}/mailbox?to=orla.fenwick@mosswick.example`);
  await page.click('table a');
  await person.sees('Attached');
  await take('mailbox');
} finally {
  await browser.close();
  await demo.stop();
}
