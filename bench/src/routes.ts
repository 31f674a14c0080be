import { DRAWING, FORMULA, PICTURE } from '@chronicon/core/bounds';
import { type Api, openServer, readConfig } from '@chronicon/server';
import { type Simulators, startSimulators } from '@chronicon/simulators';
import sharp from 'sharp';
import { report } from './measure.ts';
import { furnishClient, launch, settings, signIn } from './server.ts';

/** Milliseconds within which a person is answered or refused, and within which the health is told meanwhile. */
const PERSON = 10_000;
const HEALTH = 200;

type Document = { pages: { rows: { id: string; blocks: object[] }[]; id: string; title: string }[] };

/** As many tables as the bounds allow: the heaviest page that a member may ask for. */
function heaviest(document: Document): Document {
  const pages = [0, 1].map((p) => ({
    id: `p${p}`,
    title: 'Tables',
    rows: Array.from({ length: 40 }, (_, r) => ({
      id: `p${p}r${r}`,
      blocks: [0, 1, 2].map((b) => ({
        kind: 'ranking',
        id: `p${p}r${r}b${b}`,
        dimension: 'landingPage',
        metrics: ['visits', 'bounceRate'],
        n: 50,
        title: `Table ${p}-${r}-${b}`,
      })),
    })),
  }));
  return { ...document, pages };
}

const longestFormula = (): string => {
  const open = '('.repeat(FORMULA.depth - 4);
  const inner = `${open}visits${')'.repeat(FORMULA.depth - 4)}`;
  return (
    inner + '+visits*orders/revenue'.repeat(Math.floor((FORMULA.characters - inner.length) / 22)).slice(0, 22 * 60)
  );
};

const largestDrawing = (): string => {
  const shapes = DRAWING.elements - 2;
  const path = `M0 0${' L9 9'.repeat(Math.floor(DRAWING.path / shapes / 5) - 2)}Z`;
  return `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 100 100">${`<path fill="#b43a2e" d="${path}"/>`.repeat(shapes)}</svg>`;
};

/** The heaviest request of each kind that the bounds allow, several at once, and the health of the server meanwhile. */
export async function benchRoutes(folder: string): Promise<void> {
  const smtpPort = 4394;
  const simulators: Simulators = await startSimulators({ smtpPort });
  const env = { ...settings(folder, simulators, smtpPort), CHRONICON_PORT: '4393' };
  try {
    const api: Api & { shut(): Promise<void> } = await openServer(readConfig(env));
    const { clientId, reportId } = await furnishClient(api);
    await api.shut();
    const server = launch(env);
    const url = await server.ready;
    const { cookie, csrf } = await signIn(url);
    const headers = { cookie, 'x-csrf-token': csrf, 'content-type': 'application/json' };
    const get = (path: string) => () => fetch(`${url}${path}`, { headers });
    const post = (path: string, body: unknown) => () =>
      fetch(`${url}${path}`, { method: 'POST', headers, body: JSON.stringify(body) });
    const { document, title, version } = (await (await get(`/api/reports/${reportId}`)()).json()) as {
      document: Document;
      title: string;
      version: number;
    };
    const look = { kind: 'dates', from: '2007-01-01', to: '2026-10-31' };
    const long = '2007-01-01..2026-10-31';
    const figures = `/api/clients/${clientId}/figures`;
    const dates = 'from=2007-01-01&to=2026-10-31';
    const put = (path: string, body: string | Uint8Array<ArrayBuffer>, type: string) => () =>
      fetch(`${url}${path}`, { method: 'PUT', headers: { ...headers, 'content-type': type }, body });
    const side = Math.floor(Math.sqrt(PICTURE.pixels));
    const picture = new Uint8Array(
      await sharp({ create: { width: side, height: side, channels: 3, background: '#b43a2e' } })
        .png()
        .toBuffer(),
    );
    const kinds: [string, () => Promise<Response>][] = [
      [
        'a preview of 240 tables over twenty years',
        post(`/api/reports/${reportId}/preview`, { document: heaviest(document), look }),
      ],
      [
        'six figures over twenty years by landing page',
        get(
          `${figures}?metrics=visits,orders,revenue,orderRate,bounceRate,pagesPerVisit&by=landingPage&n=500&period=${long}&compare=lastYear`,
        ),
      ],
      [
        'six figures over twenty years by week',
        get(
          `${figures}?metrics=visits,orders,revenue,orderRate,bounceRate,pagesPerVisit&step=week&period=${long}&compare=lastYear`,
        ),
      ],
      ['how a figure came about', get(`${figures}/explain?metric=orderRate&${dates}`)],
      ['rows behind a figure', get(`${figures}/rows?metric=visits&${dates}&page=400`)],
      ['why a figure changed', get(`${figures}/why?metric=revenue&by=landingPage&period=${long}&compare=previous`)],
      ['a workbook', get(`${figures}/table?as=xlsx&metrics=visits,orders&step=week&period=${long}`)],
      [
        'a page of 240 tables is saved',
        put(
          `/api/reports/${reportId}`,
          JSON.stringify({ title, version, document: heaviest(document) }),
          'application/json',
        ),
      ],
      ['its PDF over twenty years', get(`/api/reports/${reportId}/pdf?from=${look.from}&to=${look.to}`)],
      ['what its release reaches', get(`/api/reports/${reportId}/release`)],
      [
        'the longest formula, tried',
        post(`/api/clients/${clientId}/own-metrics/try`, { key: 'longest', unit: 'count', formula: longestFormula() }),
      ],
      ['a picture of as many points as it may have', put(`/api/clients/${clientId}/logo`, picture, 'image/png')],
      ['a drawing of as many parts', put(`/api/clients/${clientId}/logo`, largestDrawing(), 'image/svg+xml')],
      ['all labels of landing pages', get(`/api/clients/${clientId}/labels?dimension=landingPage&text=`)],
      ['the contract as a document', get('/api/openapi.json')],
      ['the Desk', get('/api/desk')],
      ['the list of clients', get('/api/clients')],
      [
        'a schedule that never comes round',
        post(`/api/clients/${clientId}/schedules/look-ahead`, {
          rule: { freq: 'yearly', month: 12, on: { workday: 23 } },
          time: '08:00',
          zone: 'Europe/Berlin',
          firstDate: '2199-12-01',
          lastDate: null,
          period: { kind: 'unit', unit: 'month', offset: -1 },
          comparison: { kind: 'typical', k: 24 },
        }),
      ],
    ];
    let worst = 0;
    const health: number[] = [];
    let watching = true;
    const watch = (async () => {
      while (watching) {
        const began = performance.now();
        await (await fetch(`${url}/api/health`)).arrayBuffer();
        health.push(performance.now() - began);
        await new Promise((r) => setTimeout(r, 50));
      }
    })();
    for (const [name, ask] of kinds) {
      const before = health.length;
      const began = performance.now();
      const answers = await Promise.all(Array.from({ length: 3 }, ask));
      await Promise.all(answers.map((a) => a.arrayBuffer()));
      const took = performance.now() - began;
      worst = Math.max(worst, took);
      report(`${name}, three at once: ${answers.map((a) => a.status).join(' ')}`, [took], PERSON);
      const meanwhile = health.slice(before);
      if (meanwhile.length > 0) report('  health meanwhile', [Math.max(...meanwhile)], HEALTH);
    }
    watching = false;
    await watch;
    report('the slowest of them', [worst], PERSON);
    report(`health meanwhile, the slowest of ${health.length}`, [Math.max(...health)], HEALTH);
    server.child.kill('SIGTERM');
    await server.ended;
  } finally {
    await simulators.close();
  }
}
