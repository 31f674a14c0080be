import { spawnSync } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';

const demo = (env: Record<string, string>) =>
  spawnSync(process.execPath, [join(import.meta.dirname, '../../scripts/demo.mjs')], {
    env: { ...process.env, ...env },
    encoding: 'utf8',
    timeout: 240_000,
  });

describe('what keeps the demo from starting', () => {
  it('is one line that says what to do: a port in use', async () => {
    const taken = createServer();
    const port = await new Promise<number>((resolve) => {
      taken.listen(0, '127.0.0.1', () => resolve((taken.address() as { port: number }).port));
    });
    const { status, stderr } = demo({ CHRONICON_PORT: String(port) });
    const formerName = demo({ CHRONICON_PORT: '0', CHRONICON_STANDINS_PORT: String(port) });
    taken.close();
    expect(status).toBe(1);
    expect(formerName.stderr).toContain(`Port ${port} is in use.`);
    expect(formerName.stderr).toContain('set another port in CHRONICON_SIMULATORS_PORT');
    expect(stderr.trim()).toBe(
      `Port ${port} is in use. Stop what runs there (perhaps this demo), or set another port in CHRONICON_PORT.`,
    );
  });

  it('is one line that says what to do: a data folder that cannot be written', () => {
    const file = join(mkdtempSync(join(tmpdir(), 'chronicon-start-')), 'a-file');
    writeFileSync(file, '');
    const { status, stderr } = demo({
      CHRONICON_DATA: join(file, 'data'),
      CHRONICON_PORT: '4399',
      CHRONICON_SIMULATORS_PORT: '4398',
      CHRONICON_SMTP_PORT: '4397',
    });
    expect(status).toBe(1);
    expect(stderr.trim()).toBe(
      `Can’t write to the data folder ${join(file, 'data')}. Make it writable, or set another in CHRONICON_DATA.`,
    );
  });
});
