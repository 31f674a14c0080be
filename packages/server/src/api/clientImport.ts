import { createHash } from 'node:crypto';
import { setImmediate } from 'node:timers/promises';
import { MOST_CLIENT_ROWS, MOST_PASTED, MOST_TAGS } from '@chronicon/core/bounds';
import { civilDateAt } from '@chronicon/core/calendar';
import { readSettings, SETTINGS } from '@chronicon/core/client';
import { clientInput, contactInput, MANAGERS, type RouteName, tagName } from '@chronicon/core/contract';
import { ENCODING_LABELS, guessSeparator } from '@chronicon/core/feeds';
import { localeNamed } from '@chronicon/core/words';
import addressparser from 'nodemailer/lib/addressparser';
import Papa from 'papaparse';
import { guessEncoding } from '../feeds/files/encoding.ts';
import { atField, Refusal } from '../platform/refusal.ts';
import { assign } from '../store/assignments.ts';
import {
  type ClientHead,
  changeClient,
  clientsIn,
  contactsOf,
  createClient,
  newBrand,
  saveContact,
} from '../store/clients.ts';
import { record } from '../store/ledger.ts';
import { type Agency, activeMembers, agencyOf, type Member, memberById } from '../store/members.ts';
import { inTransaction, type Store } from '../store/store.ts';
import { setTags, tagsOf } from '../store/tags.ts';
import { updateClient } from '../store/updateClient.ts';
import { theClient } from './access.ts';
import { changing } from './changing.ts';
import type { Handlers } from './context.ts';

/** Rows that are looked at before anybody else's turn comes. */
const ROWS_AT_ONCE = 100;

/** What a column may be called: letters alone, as people write it. */
const COLUMNS = {
  reference: ['id', 'clientid', 'externalid', 'reference', 'ref', 'clientnumber', 'customernumber', 'customerid'],
  client: ['client', 'clientname', 'company', 'customer'],
  site: ['website', 'site', 'domain', 'url'],
  zone: ['timezone', 'zone'],
  currency: ['currency'],
  language: ['language', 'reportlanguage'],
  tags: ['tags', 'tag', 'labels'],
  manager: ['manager', 'manageremail', 'accountmanager'],
  firstName: ['firstname', 'givenname', 'contact', 'contactname', 'name'],
  lastName: ['lastname', 'surname', 'familyname'],
  email: ['email', 'contactemail', 'mail', 'emailaddress'],
  role: ['role', 'jobtitle', 'position'],
  phone: ['phone', 'telephone', 'mobile'],
  notes: ['notes', 'note', 'remarks'],
} as const;
type Column = keyof typeof COLUMNS;

interface Row {
  line: number;
  cells: Record<Column, string>;
}

/** What was brought as text, with its encoding where that was found out of a file's bytes. @throws Refusal at `text` */
function textOf({ text, bytes }: { text: string; bytes: string | null }): { text: string; encoding: string | null } {
  if (bytes === null) {
    if (text.trim() === '') throw atField('text', 'Choose a file, or paste rows.');
    return { text, encoding: null };
  }
  const data = Buffer.from(bytes, 'base64');
  const encoding = guessEncoding(data);
  return { text: new TextDecoder(encoding).decode(data), encoding: ENCODING_LABELS[encoding] };
}

/** The rows of a text in CSV, with the columns that were understood. @throws Refusal at `text` */
function readRows(text: string): { rows: Row[]; unread: string[] } {
  const plain = text.replace(/^\uFEFF/, '');
  const { data } = Papa.parse<string[]>(plain, { skipEmptyLines: false, delimiter: guessSeparator(plain) });
  const [head = [], ...body] = data;
  const keyOf = (cell: string): Column | null => {
    const plain = cell.toLowerCase().replace(/[^a-z]/g, '');
    return (
      (Object.entries(COLUMNS).find(([, names]) => (names as readonly string[]).includes(plain))?.[0] as Column) ?? null
    );
  };
  const keys = head.map(keyOf);
  if (!keys.includes('client')) {
    throw atField(
      'text',
      'The first row has to name the columns, one of them Client. The others may be: Id, Website, Time zone, Currency, Language, Tags, Manager, First name, Last name, Email, Role, Phone, Notes.',
    );
  }
  const filled = body.map((cells, i) => ({ line: i + 2, cells })).filter((r) => r.cells.some((c) => c.trim() !== ''));
  if (filled.length > MOST_CLIENT_ROWS) throw atField('text', `Bring ${MOST_CLIENT_ROWS} rows at once at most.`);
  const blank = Object.fromEntries(Object.keys(COLUMNS).map((k) => [k, ''])) as Record<Column, string>;
  return {
    unread: head.filter((h, i) => keys[i] === null && h.trim() !== ''),
    rows: filled.map(({ line, cells }) => {
      const named = { ...blank };
      // Of two columns for one thing, the first that says something stands.
      for (const [i, key] of keys.entries()) if (key && named[key] === '') named[key] = (cells[i] ?? '').trim();
      return { line, cells: named };
    }),
  };
}

/** A client as the import knows it: one that is there, or one that it makes. */
interface Known {
  /** Null for one that is made. */
  id: string | null;
  name: string;
  emails: Set<string>;
  tags: string[];
  managerId: string;
}

interface Step {
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

interface Plan {
  steps: Step[];
  rows: { line: number; client: string; does: string[]; problem: string | null }[];
}

const first = (error: { issues: { message: string; path: PropertyKey[] }[] }): string => {
  const issue = error.issues[0]!;
  return `${String(issue.path.at(-1) ?? '')}: ${issue.message}`.replace(/^: /, '');
};

/** What each row would do, one after the other: a row knows what those before it make. */
async function planRows(db: Store, member: Member, agency: Agency, rows: readonly Row[], now: string): Promise<Plan> {
  const heads = await clientsIn(db, { member });
  const named = (text: string) => heads.filter((h) => h.name.toLowerCase() === text.toLowerCase());
  const numbered = (text: string) => heads.filter((h) => h.reference !== '' && h.reference === text);
  const told = sayingsOf(rows);
  const people = await activeMembers(db);
  const known = new Map<string, Known>();
  const kept = await tagsOf(
    db,
    heads.map((h) => h.id),
  );
  const meet = async (head: ClientHead): Promise<Known> => {
    const emails = new Set((await contactsOf(db, head.id)).map((c) => c.email));
    return { id: head.id, name: head.name, emails, tags: kept.get(head.id) ?? [], managerId: head.managerId };
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
      refuse('It names no client.');
      continue;
    }
    const key = keyOf(cells);
    const fault = told.get(key) ?? null;
    if (fault !== null) {
      refuse(fault);
      continue;
    }
    // An id finds its client, whatever that is called by now; a name finds one that has no other id.
    const byId = cells.reference === '' ? [] : numbered(cells.reference);
    const free = named(cells.client).filter((h) => cells.reference === '' || h.reference === '');
    const found = byId.length > 0 ? byId : free;
    if (found.length > 1) {
      refuse(
        byId.length > 1
          ? `${found.length} clients have the id ${cells.reference}. Give each an id of its own first.`
          : `${found.length} clients are called ${cells.client}. Say which by its id, in a column Id.`,
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
      does.push(`Makes the client: ${makes.zone}, ${makes.currency}, ${makes.language}.`);
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
    const client: Known = before ?? { id: null, name: cells.client, emails: new Set(), tags: [], managerId: member.id };
    const tags = cells.tags
      .split(/[;,]/)
      .map((t) => t.trim())
      .filter((t) => t !== '');
    const wrongTag = tags.map((t) => tagName.safeParse(t)).find((t) => !t.success);
    const news = tags.filter((t) => !client.tags.some((k) => k.toLowerCase() === t.toLowerCase()));
    if (wrongTag?.error || client.tags.length + news.length > MOST_TAGS) {
      refuse(wrongTag?.error ? first(wrongTag.error) : `A client has ${MOST_TAGS} tags at most.`);
      continue;
    }
    let managerId: string | null = null;
    if (cells.manager !== '') {
      const named = cells.manager.toLowerCase();
      const found = people.filter((p) => p.email === named || p.name.toLowerCase() === named);
      if (found.length !== 1 || !MANAGERS.includes(found[0]!.role)) {
        refuse(`${cells.manager} is no owner or manager here.`);
        continue;
      }
      if (found[0]!.id !== client.managerId) managerId = found[0]!.id;
    }
    // A client that is there belongs to whoever manages it: they, or an owner, give it away.
    if (managerId !== null && makes === null && member.role !== 'owner' && client.managerId !== member.id) {
      refuse(`Only an owner, or who manages ${client.name}, gives it to another manager.`);
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
      if (client.emails.has(address)) does.push(`${address} is a contact already: left as it is.`);
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
      does.push(`Gives it to ${people.find((p) => p.id === managerId)!.name}.`);
    }
    known.set(at, client);
    if (does.length === 0) does.push('Changes nothing.');
    plan.steps.push({ row, client, makes, changes, contact, tags: [...client.tags], managerId, does });
    plan.rows.push({ line: row.line, client: client.name, does, problem: null });
  }
  return plan;
}

/** What tells the client of one row from that of another: its id, else its name. */
const keyOf = ({ reference, client }: Row['cells']): string =>
  reference === '' ? `name ${client.toLowerCase()}` : `id ${reference}`;

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
          `Rows ${before.line} and ${line} give ${cells.client} another ${what}. Are they two clients? Give each an id of its own, in a column Id.`,
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
    if (head.reference === '') does.push(`Notes its id, ${cells.reference}.`);
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
        return `Its ${key === 'zone' ? 'time zone' : 'currency'} is ${now[key]}: that is changed on its own page, not here.`;
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

async function carryOut(tx: Store, plan: Plan, member: Member, agency: Agency, at: string): Promise<void> {
  const brand = newBrand(agency.settings.brand);
  for (const { client, makes, changes, contact, tags, managerId } of plan.steps) {
    if (makes) {
      client.id = (await createClient(tx, makes, { managerId: member.id, at, brand })).id;
      await record(tx, { at, actor: member.id, action: 'client.created', subject: client.id });
    }
    const id = client.id!;
    if (changes) {
      await updateClient(tx, id, changes, at);
      await record(tx, { at, actor: member.id, action: 'client.changed', subject: id, detail: { by: 'import' } });
    }
    if (contact) {
      const made = await saveContact(tx, id, contact, at);
      await record(tx, { at, actor: member.id, action: 'contact.added', subject: id, detail: { contact: made.id } });
    }
    await setTags(tx, id, tags);
    if (managerId !== null) {
      await assign(tx, managerId, id);
      await changeClient(tx, id, { manager_id: managerId }, at);
      await record(tx, { at, actor: member.id, action: 'clients.handed-over', subject: id, detail: { to: managerId } });
    }
  }
}

const hashOf = (what: unknown): string => createHash('sha256').update(JSON.stringify(what)).digest('base64url');

const CHANGED = 'Something has changed since you looked: look at it as it is now, then bring it.';

/** Names and addresses out of lines as mail programs and tables give them. */
function readPeople(text: string): { firstName: string; lastName: string; email: string }[] {
  return text.split(/\r?\n/).flatMap((line) => {
    const plain = line.trim();
    if (plain === '') return [];
    // A line of a table: two or three cells with the address among them.
    const cells = plain
      .split(/\t|;/)
      .map((c) => c.trim())
      .filter((c) => c !== '');
    const at = cells.findIndex((c) => /^[^\s<>]+@[^\s<>]+$/.test(c));
    if (cells.length > 1 && at >= 0) {
      const [firstName = '', ...rest] = cells
        .filter((_, i) => i !== at)
        .slice(0, 2)
        .join(' ')
        .split(/\s+/);
      return [{ firstName, lastName: rest.join(' '), email: cells[at]! }];
    }
    return addressparser(plain, { flatten: true }).map(({ name, address }) => {
      // “Lund, Petra” as directories write it.
      const turned = name.includes(',')
        ? name
            .split(',')
            .map((p) => p.trim())
            .reverse()
            .join(' ')
        : name;
      const [firstName = '', ...rest] = turned.trim().split(/\s+/);
      return { firstName: firstName || address.split('@')[0] || '', lastName: rest.join(' '), email: address || plain };
    });
  });
}

export const clientImportHandlers: Handlers<
  Extract<RouteName, 'POST /api/clients/import' | 'POST /api/clients/:client/contacts/many'>
> = {
  'POST /api/clients/import': async ({ api, session: { member }, body }) => {
    const { text, encoding } = textOf(body);
    const { rows, unread } = readRows(text);
    const at = api.clock.now();
    return inTransaction(api.store, async (tx) => {
      const agency = (await agencyOf(tx))!;
      const plan = await planRows(tx, (await memberById(tx, member.id))!, agency, rows, at);
      const seen = hashOf(plan.rows);
      if (body.seen !== null && body.seen !== seen) throw new Refusal(409, CHANGED);
      if (body.seen !== null) await carryOut(tx, plan, member, agency, at);
      return {
        seen,
        done: body.seen !== null,
        text,
        encoding,
        unread,
        rows: plan.rows,
        clients: plan.steps.filter((s) => s.makes).length,
        changed: plan.steps.filter((s) => s.changes).length,
        contacts: plan.steps.filter((s) => s.contact).length,
        leftOut: plan.rows.filter((r) => r.problem !== null).length,
      };
    });
  },

  'POST /api/clients/:client/contacts/many': async ({ api, session, params, body }) => {
    const client = await theClient(api.store, session.member, params.client);
    const people = readPeople(body.text);
    if (people.length > MOST_PASTED) throw atField('text', `Paste ${MOST_PASTED} at once at most.`);
    const plan = async (db: Store) => {
      const there = new Set((await contactsOf(db, client.id)).map((c) => c.email));
      return people.map((p) => {
        const read = contactInput.safeParse(p);
        if (!read.success) return { ...p, problem: first(read.error) };
        const email = read.data.email.toLowerCase();
        if (there.has(email)) return { ...p, email, problem: 'Is a contact already.' };
        there.add(email);
        return { ...p, email, problem: null };
      });
    };
    if (body.seen === null) {
      const rows = await plan(api.store);
      return { seen: hashOf(rows), done: false, rows };
    }
    const rows = await changing(api, session, 'contacts.added', client.id, async (tx, at) => {
      const now = await plan(tx);
      if (hashOf(now) !== body.seen) throw new Refusal(409, CHANGED);
      for (const { problem, ...person } of now) if (problem === null) await saveContact(tx, client.id, person, at);
      return now;
    });
    return { seen: hashOf(rows), done: true, rows };
  },
};
