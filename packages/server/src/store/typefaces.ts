import { filesOfTypefaces, type Typefaces } from '@chronicon/core/report';
import { brandIn } from './brands.ts';
import { newId } from './ids.ts';
import { agencyOf } from './members.ts';
import type { Store } from './store.ts';
import { storedNames } from './stored.ts';

export interface StoredTypeface {
  id: string;
  name: string;
  regular: string;
  bold: string | null;
  said: string[];
}

/** Typefaces that were brought, those that are still there alone. */
export async function typefacesOf(db: Store): Promise<StoredTypeface[]> {
  const rows = await db
    .selectFrom('typeface')
    .select(['id', 'name', 'regular', 'bold', 'said'])
    .where('removed_at', 'is', null)
    .orderBy('name')
    .orderBy('id')
    .execute();
  return rows.map((r) => ({ ...r, said: [...storedNames(r.said)] }));
}

/** Whether a file is one of a typeface, of one that was taken away, too: what was sent is written with it. */
export async function isTypefaceFile(db: Store, file: string): Promise<boolean> {
  const row = await db
    .selectFrom('typeface')
    .select('id')
    .where((w) => w.or([w('regular', '=', file), w('bold', '=', file)]))
    .executeTakeFirst();
  return row !== undefined;
}

/** Whether all that a kit writes with is there. */
export async function hasTypefaces(db: Store, typefaces: Typefaces | undefined): Promise<boolean> {
  const files = filesOfTypefaces(typefaces);
  if (files.length === 0) return true;
  const there = new Set((await typefacesOf(db)).flatMap((t) => [t.regular, t.bold]));
  return files.every((file) => there.has(file));
}

export async function addTypeface(
  db: Store,
  { name, regular, said }: Omit<StoredTypeface, 'id' | 'bold'>,
  at: string,
  by: string,
): Promise<string> {
  const id = newId('tf');
  await db
    .insertInto('typeface')
    .values({ id, name, regular, bold: null, said: JSON.stringify(said), at, by, removed_at: null })
    .execute();
  return id;
}

export async function setBold(db: Store, id: string, bold: string): Promise<void> {
  await db.updateTable('typeface').set({ bold }).where('id', '=', id).execute();
}

export async function removeTypeface(db: Store, id: string, at: string): Promise<void> {
  await db.updateTable('typeface').set({ removed_at: at }).where('id', '=', id).execute();
}

/** Whose kits write with which files: clients, and the agency under null. */
export async function typefaceUses(db: Store): Promise<{ client: string | null; whose: string; files: string[] }[]> {
  const clients = await db
    .selectFrom('client')
    .select(['id', 'name', 'brand'])
    .where('brand', 'like', '%"kind":"own"%')
    .execute();
  const agency = await agencyOf(db);
  return [
    ...(agency
      ? [
          {
            client: null,
            whose: `${agency.name} (the agency)`,
            files: filesOfTypefaces(agency.settings.brand.typefaces),
          },
        ]
      : []),
    ...clients.map((c) => ({
      client: c.id,
      whose: c.name,
      files: filesOfTypefaces(brandIn(c.brand).typefaces),
    })),
  ].filter((u) => u.files.length > 0);
}
