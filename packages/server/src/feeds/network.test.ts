import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { ask } from './http.ts';
import { isAllowed } from './network.ts';

const HERE = { loopback: true, private: false };
const OUTSIDE = { loopback: false, private: false };
const OFFICE = { loopback: false, private: true };

/** Answers with a redirect to what its path says, or with what it was sent. */
let server: Server;
let other: Server;
let base: string;
let elsewhere: string;
let shut = 0;
const seen: { path: string; token: string | undefined }[] = [];

beforeAll(async () => {
  const make = () =>
    createServer((req, res) => {
      seen.push({ path: req.url!, token: req.headers.authorization });
      const to = /^\/to\?(.+)$/.exec(req.url!)?.[1];
      if (to) res.writeHead(302, { location: decodeURIComponent(to) }).end();
      else if (req.url === '/drip') {
        res.writeHead(200);
        const drops = setInterval(() => res.write(' '), 20);
        res.on('close', () => clearInterval(drops));
      } else if (req.url === '/flood') {
        res.writeHead(200);
        const block = Buffer.alloc(1024 * 1024, ' ');
        const pour = () => {
          while (!res.destroyed && res.write(block));
        };
        res.on('drain', pour);
        pour();
      } else if (req.url === '/shut-once') {
        if (shut++ === 0) req.socket.destroy();
        else res.end('again');
      } else res.end('{"here":true}');
    });
  const listen = (s: Server) =>
    new Promise<string>((resolve) => {
      s.listen(0, '127.0.0.1', () => resolve(`http://127.0.0.1:${(s.address() as AddressInfo).port}`));
    });
  server = make();
  other = make();
  base = await listen(server);
  elsewhere = await listen(other);
});
afterAll(() => {
  for (const s of [server, other]) {
    s.closeAllConnections();
    s.close();
  }
});

const get = (url: string, network = HERE, timeout = 2_000) =>
  ask({ url: new URL(url), headers: { authorization: 'Bearer secret' }, network, timeout });

describe('addresses that feeds may be fetched from', () => {
  it.each([
    ['93.184.216.34', true, true, true],
    ['127.0.0.1', true, false, false],
    ['::1', true, false, false],
    ['10.1.2.3', false, false, true],
    ['172.16.0.9', false, false, true],
    ['192.168.1.1', false, false, true],
    ['fd12:3456::1', false, false, true],
    // Link-local, where clouds keep their secrets: never.
    ['169.254.169.254', false, false, false],
    ['fe80::1', false, false, false],
    ['::ffff:169.254.169.254', false, false, false],
    ['::ffff:127.0.0.1', true, false, false],
    ['0.0.0.0', false, false, false],
    ['224.0.0.1', false, false, false],
  ])('%s: on this machine %s, public only %s, with private ones %s', (ip, here, outside, office) => {
    expect([isAllowed(ip, HERE), isAllowed(ip, OUTSIDE), isAllowed(ip, OFFICE)]).toEqual([here, outside, office]);
  });

  it('are waited for as long as is left of a person’s time, to the part of a millisecond', async () => {
    expect((await get(`${base}/x`, HERE, 60_000.25)).body).toBe('{"here":true}');
    await expect(get(`${base}/drip`, HERE, 80.75)).rejects.toThrow('The service didn’t respond within');
  });

  it('are checked before anything is sent, by name as well as by number', async () => {
    const before = seen.length;
    await expect(get(`${base}/x`, OUTSIDE)).rejects.toThrow('This server isn’t allowed to fetch from');
    const { port } = new URL(base);
    await expect(get(`http://localhost:${port}/x`, OUTSIDE)).rejects.toThrow('This server isn’t allowed to fetch from');
    await expect(get(`http://[::ffff:127.0.0.1]:${port}/x`, OUTSIDE)).rejects.toThrow(
      'This server isn’t allowed to fetch from',
    );
    await expect(get('http://169.254.169.254/latest', { loopback: true, private: true })).rejects.toThrow(
      'This server isn’t allowed to fetch from',
    );
    await expect(get('ftp://127.0.0.1/x')).rejects.toThrow('This server isn’t allowed to fetch from');
    expect(seen).toHaveLength(before);
  });

  it('are checked again at every redirect; credentials stay with the place they were meant for', async () => {
    expect((await get(`${base}/to?${encodeURIComponent('/there')}`)).body).toBe('{"here":true}');
    expect(seen.at(-1)).toEqual({ path: '/there', token: 'Bearer secret' });
    await get(`${base}/to?${encodeURIComponent(`${elsewhere}/there`)}`);
    expect(seen.at(-1)).toEqual({ path: '/there', token: undefined });
    const bad = `${base}/to?${encodeURIComponent('http://169.254.169.254/secrets')}`;
    await expect(get(bad)).rejects.toThrow('fetch from 169.254.169.254');
    await expect(get(`${base}/to?${encodeURIComponent('file:///etc/passwd')}`)).rejects.toThrow(
      'This server isn’t allowed to fetch from',
    );
    const circle = `${base}/to?${encodeURIComponent(`/to?${encodeURIComponent(`/to?${encodeURIComponent('/to?%2Fto%3Fx')}`)}`)}`;
    await expect(get(circle)).rejects.toThrow('The service redirects in a loop.');
  });

  it('that drip a byte at a time are given up in time', async () => {
    await expect(get(`${base}/drip`, HERE, 300)).rejects.toThrow('The service didn’t respond within');
  });

  it('that send without end are read no further than is taken at once', async () => {
    await expect(get(`${base}/flood`, HERE, 60_000)).rejects.toThrow('The service sent too much data at once.');
  });

  it('are asked once more where they shut a connection before they said anything', async () => {
    expect((await get(`${base}/shut-once`)).body).toBe('again');
    const form = { a: '1' };
    shut = 0;
    await expect(ask({ url: new URL(`${base}/shut-once`), form, network: HERE, timeout: 2_000 })).rejects.toThrow(
      'Can’t reach the service',
    );
  });

  it('leave the fetch of the process alone', async () => {
    const { Agent } = await import('../platform/httpClient.ts');
    expect(Reflect.get(globalThis, Symbol.for('undici.globalDispatcher.1'))).not.toBeInstanceOf(Agent);
    expect(await (await fetch(`${base}/x`)).text()).toBe('{"here":true}');
  });
});
