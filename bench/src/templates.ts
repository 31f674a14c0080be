import { createClient, openServer, readConfig } from '@chronicon/server';
import { startSimulators } from '@chronicon/simulators';
import { report, timings } from './measure.ts';
import { launch, makeAgency, QUILLON, settings, signIn } from './server.ts';

const FOLLOWERS = 40;
const TIMES = 5;

/** A template’s change that many clients’ reports follow: what it changes in each, and doing it, over HTTP. */
export async function benchTemplates(folder: string): Promise<void> {
  const smtpPort = 4398;
  const simulators = await startSimulators({ smtpPort });
  const env = settings(folder, simulators, smtpPort);
  const api = await openServer(readConfig(env));
  const managerId = await makeAgency(api);
  const clients: string[] = [];
  for (let i = 0; i <= FOLLOWERS; i++) {
    const made = await createClient(api.store, { ...QUILLON, name: `Client ${i}` }, { managerId, at: api.clock.now() });
    clients.push(made.id);
  }
  await api.shut();
  const server = launch(env);
  try {
    const url = await server.ready;
    const { cookie, csrf } = await signIn(url);
    const headers = { cookie, 'x-csrf-token': csrf, 'content-type': 'application/json' };
    const ask = async <T>(method: string, path: string, body?: object): Promise<T> => {
      const response = await fetch(url + path, { method, headers, ...(body && { body: JSON.stringify(body) }) });
      if (!response.ok) throw new Error(`${path} answered ${response.status}: ${await response.text()}`);
      return (await response.json()) as T;
    };
    interface Made {
      id: string;
      version: number;
      document: { pages: { id: string; rows: { blocks: { id: string; kind: string }[] }[] }[] };
    }
    const source = await ask<Made>('POST', `/api/clients/${clients[0]}/reports`, { title: 'Month', starter: 'shop' });
    const { id: template } = await ask<{ id: string }>('POST', '/api/templates', {
      name: 'Shop month',
      about: '',
      report: source.id,
    });
    const reports: string[] = [];
    for (const client of clients.slice(1)) {
      const made = await ask<Made>('POST', `/api/clients/${client}/reports`, { title: 'Month', template });
      reports.push(made.id);
    }
    const block = source.document.pages[0]!.rows.flatMap((r) => r.blocks).find((b) => b.kind === 'trend')!.id;
    const seen: number[] = [];
    const undone: number[] = [];
    const followed = await timings(TIMES, 0, async (i) => {
      const { version } = await ask<Made>('GET', `/api/reports/${source.id}`);
      const edits = [
        { op: 'setBlock', block, set: { title: `From day to day, ${i}` } },
        {
          op: 'addRow',
          page: source.document.pages[1]!.id,
          row: { id: `row-${i}`, blocks: [{ kind: 'heading', id: `new-${i}`, text: 'More' }] },
          after: null,
        },
      ];
      await ask('POST', `/api/reports/${source.id}/edits`, { version, edits });
      const { version: newest } = await ask<{ version: number }>('POST', `/api/templates/${template}/take`, {
        report: source.id,
        texts: [`From day to day, ${i}`, 'More'],
      });
      const began = performance.now();
      const following = await ask<{ changes: string[] }[]>('GET', `/api/templates/${template}/following`);
      seen.push(performance.now() - began);
      if (following.filter((f) => f.changes.length === 2).length !== FOLLOWERS)
        throw new Error('not all of them change');
      const done = await ask<{ followed: { report: string; kept: string }[] }>(
        'POST',
        `/api/templates/${template}/follow`,
        { version: newest, reports },
      );
      const [one] = done.followed;
      const again = performance.now();
      const { version: now } = await ask<Made>('GET', `/api/reports/${one!.report}`);
      await ask('POST', `/api/reports/${one!.report}/versions/${one!.kept}/restore`, { version: now });
      undone.push(performance.now() - again);
      await ask('POST', `/api/templates/${template}/follow`, { version: newest, reports: [one!.report] });
    });
    report(`template: what a change does to ${FOLLOWERS} reports, seen`, seen, 5_000);
    report(`template: taken, seen and followed by ${FOLLOWERS} reports`, followed, 5_000);
    report('template: undone in one of them', undone, 5_000);
  } finally {
    server.child.kill('SIGTERM');
    await server.ended;
    await simulators.close();
  }
}
