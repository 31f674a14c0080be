import { readFileSync } from 'node:fs';
import WebSocket from 'ws';
import { SCALED } from '@chronicon/server/scale';
import { launch } from './server.ts';
const server = launch({ CHRONICON_DATA: process.argv[2]!, CHRONICON_PORT: '4397', CHRONICON_MODE: 'test', CHRONICON_TODAY: '2026-11-02T08:42:00Z', CHRONICON_NOTICES: 'off', CHRONICON_LOG: 'silent' });
const url = await server.ready;
const pid = server.child.pid!;
const ran = () => Number(readFileSync(`/proc/${pid}/task/${pid}/schedstat`, 'utf8').split(' ')[0]) / 1e6;
const signIn = await fetch(`${url}/api/session`, { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify(SCALED) });
const { csrf } = (await signIn.json()) as any;
const headers = { cookie: signIn.headers.getSetCookie()[0]!.split(';')[0]!, 'x-csrf-token': csrf, 'content-type': 'application/json' };
for (let quiet = 0; quiet < 3; ) { const b = ran(); await new Promise((r) => setTimeout(r, 1000)); quiet = ran() - b < 60 ? quiet + 1 : 0; }
console.log('quiet');
process.kill(pid, 'SIGUSR1');
await new Promise((r) => setTimeout(r, 500));
const [t] = (await (await fetch('http://127.0.0.1:9229/json')).json()) as any;
const ws = new WebSocket(t.webSocketDebuggerUrl, { perMessageDeflate: false, maxPayload: 1e9 });
let id = 0; const wait = new Map<number, any>();
const call = (m: string, p = {}) => new Promise<any>((r) => { wait.set(++id, r); ws.send(JSON.stringify({ id, method: m, params: p })); });
ws.on('message', (d: any) => { const m = JSON.parse(String(d)); wait.get(m.id)?.(m.result); });
await new Promise((r) => ws.on('open', r));
await call('Profiler.enable'); await call('Profiler.setSamplingInterval', { interval: 500 });
const ask = async (method: string, path: string, body?: unknown) => { const a = await fetch(url + path, { method, headers, ...(body !== undefined && { body: JSON.stringify(body) }) }); const t = await a.text(); if (!a.ok && a.status !== 503) throw new Error(path + a.status + t); return JSON.parse(t); };
async function timed(name: string, work: () => Promise<any>, prof = false) {
  let going = true; const all: number[] = [];
  if (prof) await call('Profiler.start');
  const w = (async () => { while (going) { const b = performance.now(); await ask('GET', '/api/health'); all.push(performance.now() - b); await new Promise((r) => setTimeout(r, 20)); } })();
  const b = ran(), w0 = performance.now(); const r = await work(); const cpu = ran() - b; going = false; await w; 
  all.sort((a, b) => b - a);
  console.log(name, 'cpu', cpu.toFixed(0), 'wall', (performance.now() - w0).toFixed(0), 'health', all.slice(0, 5).map((x) => x.toFixed(0)).join(' '), 'of', all.length);
  if (prof) {
    const { profile } = await call('Profiler.stop');
    const self = new Map(), total = new Map(), by = new Map(profile.nodes.map((n: any) => [n.id, n])), parent = new Map();
    for (const n of profile.nodes) for (const c of n.children ?? []) parent.set(c, n.id);
    profile.samples.forEach((s: any, i: number) => { const dt = profile.timeDeltas[i] / 1000; let n = s, first = true; const seen = new Set(); while (n) { const f = (by.get(n) as any).callFrame; const k = f.functionName + ' ' + f.url.split('/').pop() + ':' + f.lineNumber; if (first) self.set(k, (self.get(k) ?? 0) + dt); if (!seen.has(k)) { total.set(k, (total.get(k) ?? 0) + dt); seen.add(k); } first = false; n = parent.get(n); } });
    const top = (m: any, n: number) => [...m].sort((a: any, b: any) => b[1] - a[1]).slice(0, n).map(([k, v]: any) => v.toFixed(0).padStart(7) + ' ' + k).join('\n');
    console.log('SELF\n' + top(self, 18) + '\nTOTAL\n' + top(total, 55));
  }
  return r;
}
const N = Number(process.argv[3] ?? 200);
const { all } = await ask('GET', '/api/schedules');
const body = { schedules: all.slice(0, N), act: { do: 'retime', time: process.argv[4] ?? '07:10', zone: null } };
await timed('nothing', () => new Promise((r) => setTimeout(r, 1500)));
const { seen } = await timed('looked', () => ask('POST', '/api/schedules/many', body), process.argv[5] === 'look');
const { done } = await timed('retimed', () => ask('POST', '/api/schedules/many', { ...body, seen }), process.argv[5] !== 'look');
await timed('after', () => new Promise((r) => setTimeout(r, 3000)));
await timed('undone', () => ask('POST', `/api/schedules/many/${done}/undo`, {}));
const rows = Array.from({ length: N }, (_, i) => `Brought ${i},North`);
await timed('import', () => ask('POST', '/api/clients/import', { text: ['client,tags', ...rows].join('\n') }), process.argv[5] === 'import');
server.child.kill('SIGTERM'); await server.ended; process.exit();
