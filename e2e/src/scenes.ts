import { mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { parseArgs } from 'node:util';
import { launchDemo } from './launch.ts';

/**
 * Draws every report of the demo agency, for its own dates, a day and a year, and
 * keeps the scenes in a folder; with `--against`, says where they differ from those that another state of the code drew. With
 * `--numbers`, it says so of the figures alone, whatever words stand about them and without notes: those that only one side prints, each with a text
 * that has it.
 */
const { values, positionals } = parseArgs({
  allowPositionals: true,
  options: { against: { type: 'string' }, numbers: { type: 'boolean' } },
});
if (!positionals[0]) {
  console.error('npm run scenes -- FOLDER [--against FOLDER [--numbers]]');
  process.exit(2);
}
const folder = resolve(positionals[0]);
mkdirSync(folder, { recursive: true });

const LOOKS = [
  ['own', { kind: 'own' }],
  ['day', { kind: 'dates', from: '2026-10-14', to: '2026-10-14' }],
  ['year', { kind: 'dates', from: '2025-11-01', to: '2026-10-31' }],
] as const;

/** Ids are chance: the first that is met is number one. */
function numbered(text: string): string {
  const known = new Map<string, string>();
  return text.replace(/"([a-z]{2}_[A-Za-z0-9]{8,})"/g, (_, id: string) => {
    if (!known.has(id)) known.set(id, `"#${known.size + 1}"`);
    return known.get(id)!;
  });
}

const demo = await launchDemo('2026-11-02T08:42:00Z');
try {
  const signIn = await fetch(`${demo.url}/api/session`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ email: 'ines.tallow@fernglass.example', password: 'lantern-evening-42' }),
  });
  const cookie = signIn.headers.getSetCookie()[0]!.split(';')[0]!;
  const { csrf } = (await signIn.json()) as { csrf: string };
  const ask = async (path: string, body?: unknown): Promise<unknown> => {
    const response = await fetch(demo.url + path, {
      method: body === undefined ? 'GET' : 'POST',
      headers: { cookie, 'x-csrf-token': csrf, 'content-type': 'application/json' },
      ...(body !== undefined && { body: JSON.stringify(body) }),
    });
    if (!response.ok) throw new Error(`${path} answered ${response.status}: ${await response.text()}`);
    return response.json();
  };
  type Named = { id: string; name: string; title: string };
  for (const client of (await ask('/api/clients/names')) as Named[]) {
    for (const report of (await ask(`/api/clients/${client.id}/reports`)) as Named[]) {
      for (const [name, look] of LOOKS) {
        const drawn = await ask(`/api/reports/${report.id}/preview`, { look });
        // Hashes name pages with their ids.
        const { pages } = drawn as { pages: { page: unknown }[] };
        const text = numbered(JSON.stringify(pages.map((p) => p.page)));
        writeFileSync(join(folder, `${client.name} - ${report.title} - ${name}.json`), text);
      }
    }
  }
} finally {
  await demo.stop();
}

/** A figure as it is printed, without its sign: a word may say that it fell. Days, years and numbers of pages are no figures. */
const FIGURE = /\d+(?:[.,\u202f\u00a0]\d+)+|\d{3,}/g;
const YEAR = /^(19|20)\d\d$/;
/** Size of the notes at the foot of a sheet, in points: a note may be reworded, or moved to another sheet. */
const NOTE_SIZE = 7.5;

/** Every figure of a report's pages with a text that has it. */
function figuresOf(file: string): Map<string, string> {
  const pages = JSON.parse(readFileSync(file, 'utf8')) as {
    blocks: unknown[];
    ops: { k: string; text?: string; size?: number }[];
  }[];
  const found = new Map<string, string>();
  // A sheet without blocks has the table of contents, or the notes that other sheets have no room for.
  for (const { ops } of pages.filter((p) => p.blocks.length > 0))
    for (const op of ops)
      if (op.k === 'text' && op.size !== NOTE_SIZE)
        for (const figure of op.text!.match(FIGURE) ?? []) if (!YEAR.test(figure)) found.set(figure, op.text!.trim());
  return found;
}

/** The figures that one of two drawings prints, and the other does not. */
function figureFaults(file: string, now: string, then: string): string[] {
  const [here, there] = [figuresOf(join(now, file)), figuresOf(join(then, file))];
  return [
    ...[...here].filter(([f]) => !there.has(f)).map(([f, text]) => `${file}: ${f} is new: “${text}”`),
    ...[...there].filter(([f]) => !here.has(f)).map(([f, text]) => `${file}: ${f} is gone: “${text}”`),
  ];
}

const files = readdirSync(folder).sort();
console.log(`${files.length} scenes drawn`);
if (values.against) {
  const other = resolve(values.against);
  const read = (from: string, file: string) => readFileSync(join(from, file));
  const theirs = new Set(readdirSync(other));
  const faults = [
    ...files.filter((f) => !theirs.has(f)).map((f) => `${f}: there alone now`),
    ...[...theirs].filter((f) => !files.includes(f)).map((f) => `${f}: no longer drawn`),
    ...files
      .filter((f) => theirs.has(f) && !read(folder, f).equals(read(other, f)))
      .flatMap((f) => (values.numbers ? figureFaults(f, folder, other) : [`${f}: differs`])),
  ];
  console.log(
    faults.length === 0
      ? values.numbers
        ? 'all numbers are equal'
        : 'all are equal, byte for byte'
      : faults.join('\n'),
  );
  if (faults.length > 0) process.exitCode = 1;
}
