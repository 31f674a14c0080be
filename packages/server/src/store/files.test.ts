import {
  existsSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  statSync,
  utimesSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { readConfig } from '../platform/config.ts';
import { openFiles } from './files.ts';
import { openSecrets } from './secrets.ts';

const folder = () => mkdtempSync(join(tmpdir(), 'chronicon-files-'));

describe.each(['write', 'keep'] as const)('files by their content (%s)', (put) => {
  it('are written once under their hash and read as they were', async () => {
    const root = folder();
    const files = openFiles(root, Date.now());
    const name = await files[put](Buffer.from('a report'));
    expect(await files[put](Buffer.from('a report'))).toBe(name);
    expect(files.read(name).toString()).toBe('a report');
    expect(readdirSync(join(root, 'files', name.slice(0, 2)))).toEqual([name]);
  });

  it('tell when they are damaged, missing, or asked for by a way out of the folder', () => {
    const root = folder();
    const files = openFiles(root, Date.now());
    const name = files.write(Buffer.from('a report'));
    writeFileSync(join(root, 'files', name.slice(0, 2), name), 'another');
    expect(() => files.read(name)).toThrow('damaged');
    expect(() => files.read('0'.repeat(64))).toThrow();
    expect(() => files.read('../../secret.key')).toThrow('not a file name');
  });
});

describe('files that are not what they should be', () => {
  it.each(['write', 'keep'] as const)(
    'are written anew, whole, when the same content comes again (%s)',
    async (put) => {
      const root = folder();
      const files = openFiles(root, Date.now());
      const name = files.write(Buffer.from('a report'));
      const path = join(root, 'files', name.slice(0, 2), name);
      writeFileSync(path, 'a rep');
      expect(await files[put](Buffer.from('a report'))).toBe(name);
      expect(readFileSync(path, 'utf8')).toBe('a report');
      expect(statSync(path).mode & 0o777).toBe(0o600);
    },
  );

  it('are swept when a process died over them, unless another may still be writing', () => {
    const root = folder();
    const files = openFiles(root, Date.now());
    const name = files.write(Buffer.from('a report'));
    const parent = join(root, 'files', name.slice(0, 2));
    for (const left of ['new-old', 'new-fresh']) writeFileSync(join(parent, left), 'half');
    const long = new Date(Date.now() - 3 * 86_400_000);
    utimesSync(join(parent, 'new-old'), long, long);
    openFiles(root, Date.now());
    expect(readdirSync(parent).sort()).toEqual([name, 'new-fresh'].sort());
  });
});

describe('secrets', () => {
  it('come back as they were, never twice alike, and not at all when they were touched', () => {
    const root = folder();
    const secrets = openSecrets(root, null);
    const sealed = secrets.seal('wa-token');
    expect(sealed).not.toBe(secrets.seal('wa-token'));
    expect(openSecrets(root, null).open(sealed)).toBe('wa-token');
    const bytes = Buffer.from(sealed, 'base64');
    bytes[bytes.length - 1]! ^= 1;
    expect(() => secrets.open(bytes.toString('base64'))).toThrow();
    expect(() => openSecrets(folder(), null).open(sealed)).toThrow();
  });

  it('need a whole key', () => {
    const root = folder();
    openSecrets(root, null);
    writeFileSync(join(root, 'secret.key'), readFileSync(join(root, 'secret.key'), 'utf8').slice(0, 8));
    const broken = openSecrets(root, null);
    expect(broken.trouble()).toMatchObject({ cause: 'key', passing: false });
    expect(() => broken.seal('x')).toThrow('32 bytes');
  });

  it('are never sealed by a new key beside what an old one sealed, and go on when it is back', () => {
    const root = folder();
    const sealed = openSecrets(root, null).seal('wa-token');
    const key = readFileSync(join(root, 'secret.key'));
    rmSync(join(root, 'secret.key'));
    const lost = openSecrets(root, sealed);
    expect(existsSync(join(root, 'secret.key'))).toBe(false);
    expect(lost.trouble()!.mend).toContain('Restore secret.key');
    expect(() => lost.open(sealed)).toThrow('missing');
    writeFileSync(join(root, 'secret.key'), Buffer.alloc(32, 7).toString('base64'));
    expect(() => lost.open(sealed)).toThrow('does not open');
    writeFileSync(join(root, 'secret.key'), key);
    expect(lost.trouble()).toBeNull();
    expect(lost.open(sealed)).toBe('wa-token');
  });
});

describe('the set-up', () => {
  it('takes a day, a minute or an instant as the demo’s beginning, and none in production', () => {
    const today = (value: string, mode = 'demo') => readConfig({ CHRONICON_MODE: mode, CHRONICON_TODAY: value }).today;
    expect(today('2026-11-02')).toBe('2026-11-02T08:00:00Z');
    expect(today('2026-11-02T10:30')).toBe('2026-11-02T10:30:00Z');
    expect(today('2026-11-02T10:30:05Z')).toBe('2026-11-02T10:30:05Z');
    expect(today('2026-11-02', 'production')).toBeNull();
  });

  it('names the variable at fault, and takes a crash point in tests alone', () => {
    expect(() => readConfig({ CHRONICON_PORT: '99999' })).toThrow('CHRONICON_PORT');
    expect(() => readConfig({ CHRONICON_SMTP: 'nonsense' })).toThrow('CHRONICON_SMTP');
    expect(readConfig({ CHRONICON_MODE: 'demo', CHRONICON_CRASH_AT: 'plan.before-editions' }).crashAt).toBeNull();
  });
});

describe('when a file was wanted last', () => {
  it('is told, also of one that was there already, and of none that is not', async () => {
    const root = folder();
    const files = openFiles(root, Date.now());
    const hash = files.write(Buffer.from('%PDF-1.7 a report'));
    const long = new Date(Date.now() - 30 * 86_400_000);
    utimesSync(join(root, 'files', hash.slice(0, 2), hash), long, long);
    expect(await files.writtenAt(hash)).toBeCloseTo(long.getTime(), -1);
    files.write(Buffer.from('%PDF-1.7 a report'));
    expect(await files.writtenAt(hash)).toBeGreaterThan(Date.now() - 60_000);
    await files.remove(hash);
    await files.remove(hash);
    expect(await files.writtenAt(hash)).toBeNull();
  });
});
