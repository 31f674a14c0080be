import { setImmediate } from 'node:timers/promises';
import { MOST_TAGS } from '@chronicon/core/bounds';
import { civilDateAt } from '@chronicon/core/calendar';
import { readSettings, SETTINGS } from '@chronicon/core/client';
import { clientInput, contactInput, MANAGERS, tagName } from '@chronicon/core/contract';
import { localeNamed } from '@chronicon/core/words';
import { grouped } from '../../platform/grouped.ts';
import { type ClientHead, clientsByIds, clientsMeant, contactsOf } from '../../store/clients.ts';
import { folded } from '../../store/like.ts';
import { type Agency, activeMembers, type Member } from '../../store/members.ts';
import type { Store } from '../../store/store.ts';
import { tagsOf } from '../../store/tags.ts';
import { first, type Row } from './clientRows.ts';

/** Rows that are looked at before anybody else's turn comes. */
const ROWS_AT_ONCE = 25;

/** A client as the import knows it: one that is there, or one that it makes. */
export interface Known {
  /** Null for one that is made. */
  id: string | null;
  /** How it was found, one that is there; see {@link standingNow}. */
  was: string | null;
  name: string;
  emails: Set<string>;
  tags: string[];
  managerId: string;
}

export interface Step {
  row: Row;
  client: Known;
  makes: ReturnType<typeof clientInput.parse> | null;
  /** What it is from now on, of a client that is there and changes. */
  changes: ReturnType<typeof clientInput.parse> | null;
  contact: ReturnType<typeof contactInput.parse> | null;
  tags: string[];
  managerId: string | null;
  does: string[];
}

export interface Plan {
  steps: Step[];
  rows: { line: number; client: string; does: string[]; problem: string | null }[];
}

/** One text for all of a client that an import looks at. */
const standing = (head: ClientHead, emails: readonly string[], tags: readonly string[]): string =>
  JSON.stringify([head, [...emails].sort(), tags]);

/** The same of a client as it is now; null where it is gone. */
export async function standingNow(db: Store, id: string): Promise<string | null> {
  const head = (await clientsByIds(db, [id])).get(id);
  if (!head) return null;
  const emails = (await contactsOf(db, id)).map((c) => c.email);
  return standing(head, emails, (await tagsOf(db, [id])).get(id) ?? []);
}

/** What each row would do, one after the other: a row knows what those before it make. */
export async function planRows(
  db: Store,
  member: Member,
  agency: Agency,
  rows: readonly Row[],
  now: string,
): Promise<Plan> {
  // Of thousands of clients those alone that the rows may mean.
  const heads = await clientsMeant(
    db,
    { member },
    rows.map(({ cells }) => ({ name: cells.client, reference: cells.reference })),
  );
  const byName = grouped(heads, (h) => folded(h.name));
  const byReference = grouped(heads, (h) => h.reference);
  await setImmediate();
  const told = sayingsOf(rows);
  const people = await activeMembers(db);
  const known = new Map<string, Known>();
  const kept = await tagsOf(
    db,
    heads.map((h) => h.id),
  );
  const meet = async (head: ClientHead): Promise<Known> => {
    const emails = (await contactsOf(db, head.id)).map((c) => c.email);
    const tags = kept.get(head.id) ?? [];
    const was = standing(head, emails, tags);
    return { id: head.id, was, name: head.name, emails: new Set(emails), tags, managerId: head.managerId };
  };
  const fresh = {
    ...readSettings({}),
    zone: agency.zone,
    language: agency.language,
    weekStart: agency.weekStart,
    startDate: civilDateAt(now, agency.zone),
  };
  const plan: Plan = { steps: [], rows: [] };
  for (const [n, row] of rows.entries()) {
    // Others are answered meanwhile.
    if (n % ROWS_AT_ONCE === 0) await setImmediate();
    const { cells } = row;
    const refuse = (problem: string) => plan.rows.push({ line: row.line, client: cells.client, does: [], problem });
    if (cells.client === '') {
      refuse('Client name missing.');
      continue;
    }
    const key = keyOf(cells);
    const fault = told.get(key) ?? null;
    if (fault !== null) {
      refuse(fault);
      continue;
    }
    // An id finds its client, whatever that is called by now; a name finds one that has no other id.
    const byId = cells.reference === '' ? [] : (byReference.get(cells.reference) ?? []);
    const free = (byName.get(folded(cells.client)) ?? []).filter((h) => cells.reference === '' || h.reference === '');
    const found = byId.length > 0 ? byId : free;
    if (found.length > 1) {
      refuse(
        byId.length > 1
          ? `${found.length} clients have the id ${cells.reference}. Give each its own id first.`
          : `${found.length} clients are called ${cells.client}. Add an Id column to say which.`,
      );
      continue;
    }
    const [head] = found;
    // By its id or by its name, it is one client.
    const at = head?.id ?? key;
    const before = known.get(at) ?? (head ? await meet(head) : null);
    const does: string[] = [];
    let makes: Step['makes'] = null;
    if (!before) {
      const given = Object.fromEntries(
        (['site', 'zone', 'currency', 'language'] as const).flatMap((k) =>
          cells[k] === '' ? [] : [[k, wordOf(k, cells[k], agency.language)]],
        ),
      );
      const { reference } = cells;
      const read = clientInput.safeParse({ ...fresh, ...given, name: cells.client, reference });
      if (!read.success) {
        refuse(first(read.error));
        continue;
      }
      makes = read.data;
      does.push(`Creates the client: ${makes.zone}, ${makes.currency}, ${makes.language}.`);
    }
    let changes: Step['changes'] = null;
    if (head && !known.has(at)) {
      const update = updateOf(head, cells, agency.language);
      if (typeof update === 'string') {
        refuse(update);
        continue;
      }
      if (update.does.length > 0) {
        changes = update.input;
        does.push(...update.does);
      }
    }
    const client: Known = before ?? {
      id: null,
      was: null,
      name: cells.client,
      emails: new Set(),
      tags: [],
      managerId: member.id,
    };
    const tags = cells.tags
      .split(/[;,]/)
      .map((t) => t.trim())
      .filter((t) => t !== '');
    const wrongTag = tags.map((t) => tagName.safeParse(t)).find((t) => !t.success);
    const news = tags.filter((t) => !client.tags.some((k) => k.toLowerCase() === t.toLowerCase()));
    if (wrongTag?.error || client.tags.length + news.length > MOST_TAGS) {
      refuse(wrongTag?.error ? first(wrongTag.error) : `A client has at most ${MOST_TAGS} tags.`);
      continue;
    }
    let managerId: string | null = null;
    if (cells.manager !== '') {
      const named = cells.manager.toLowerCase();
      const found = people.filter((p) => p.email === named || p.name.toLowerCase() === named);
      if (found.length !== 1 || !MANAGERS.includes(found[0]!.role)) {
        refuse(`${cells.manager} isn’t an owner or manager.`);
        continue;
      }
      if (found[0]!.id !== client.managerId) managerId = found[0]!.id;
    }
    // Only its manager or an owner may hand over an existing client.
    if (managerId !== null && makes === null && member.role !== 'owner' && client.managerId !== member.id) {
      refuse(`Only an owner or the manager of ${client.name} can assign it to someone else.`);
      continue;
    }
    let contact: Step['contact'] = null;
    if (cells.email !== '' || cells.firstName !== '') {
      const { firstName, lastName, email, role, phone, notes } = cells;
      const read = contactInput.safeParse({
        firstName: firstName || email.split('@')[0],
        lastName,
        email,
        role,
        phone,
        notes,
      });
      if (!read.success) {
        refuse(first(read.error));
        continue;
      }
      const address = read.data.email.toLowerCase();
      if (client.emails.has(address)) does.push(`${address} is already a contact: no change.`);
      else {
        contact = read.data;
        client.emails.add(address);
        does.push(`Adds the contact ${`${contact.firstName} ${contact.lastName}`.trim()}, ${address}.`);
      }
    }
    if (news.length > 0) {
      client.tags = [...client.tags, ...news];
      does.push(`Tags it ${news.join(', ')}.`);
    }
    if (managerId !== null) {
      client.managerId = managerId;
      does.push(`Assigns it to ${people.find((p) => p.id === managerId)!.name}.`);
    }
    known.set(at, client);
    if (does.length === 0) does.push('No changes.');
    plan.steps.push({ row, client, makes, changes, contact, tags: [...client.tags], managerId, does });
    plan.rows.push({ line: row.line, client: client.name, does, problem: null });
  }
  return plan;
}

/** What tells the client of one row from that of another: its id, else its name. */
const keyOf = ({ reference, client }: Row['cells']): string =>
  reference === '' ? `name ${folded(client)}` : `id ${reference}`;

/** What rows of one client may not say in two ways: else they are of two clients. */
const SAID_ONCE = ['site', 'zone', 'currency', 'language'] as const;

/** Of clients on which the rows do not agree, why: two clients of one name have to be told apart by a person. */
function sayingsOf(rows: readonly Row[]): Map<string, string> {
  const said = new Map<string, Map<string, { text: string; line: number }>>();
  const faults = new Map<string, string>();
  for (const { line, cells } of rows) {
    const key = keyOf(cells);
    const own = said.get(key) ?? new Map<string, { text: string; line: number }>();
    said.set(key, own);
    for (const column of SAID_ONCE) {
      const text = cells[column].toLowerCase();
      if (text === '') continue;
      const before = own.get(column);
      if (!before) own.set(column, { text, line });
      else if (before.text !== text) {
        const what = { site: 'website', zone: 'time zone', currency: 'currency', language: 'language' }[column];
        faults.set(
          key,
          `Rows ${before.line} and ${line} give ${cells.client} a different ${what}. If they are two clients, add an Id column.`,
        );
      }
    }
  }
  return faults;
}

/**
 * What a row changes of a client that it finds by its id: its name, website and language. A row without an id changes
 * nothing of what is there. @returns the client as it will be, or why it cannot be
 */
function updateOf(
  head: ClientHead,
  cells: Row['cells'],
  usual: string,
): { input: ReturnType<typeof clientInput.parse>; does: string[] } | string {
  const { id: _, managerId: __, inactiveSince: ___, colour: ____, ...now } = head;
  const does: string[] = [];
  const next = { ...now };
  if (cells.reference !== '') {
    if (head.reference === '') does.push(`Adds its id, ${cells.reference}.`);
    next.reference = cells.reference;
    if (cells.client !== head.name) does.push(`Renames ${head.name}.`);
    next.name = cells.client;
    for (const key of ['site', 'language'] as const) {
      const text = cells[key] === '' ? now[key] : wordOf(key, cells[key], usual);
      if (text === now[key]) continue;
      next[key] = text;
      does.push(`Changes its ${key === 'site' ? 'website' : 'language'} to ${text}.`);
    }
    for (const key of ['zone', 'currency'] as const) {
      if (cells[key] !== '' && wordOf(key, cells[key], usual) !== now[key]) {
        return `Its ${key === 'zone' ? 'time zone' : 'currency'} is ${now[key]}. Change that on the client’s page.`;
      }
    }
  }
  const read = clientInput.safeParse(next);
  return read.success ? { input: read.data, does } : first(read.error);
}

/** Zones, currencies and languages as people write them; of a language's places, the usual one. */
function wordOf(key: 'site' | 'zone' | 'currency' | 'language', text: string, usual: string): string {
  if (key === 'currency') return text.toUpperCase();
  if (key === 'language') return localeNamed(text, usual) ?? text;
  if (key !== 'zone') return text;
  const { field } = SETTINGS[key];
  if (field.kind !== 'choice') return text;
  const same = field.options.find((o) => [o.value, o.label].some((t) => t.toLowerCase() === text.toLowerCase()));
  return same?.value ?? text;
}
