import { MOST_ITEM_PICTURES } from '@chronicon/core/bounds';
import type { PictureFile } from '@chronicon/core/report';
import type { Store } from './store.ts';

/** Pictures by the address at which they are found; null for what is not to be had. */
export type PicturesByAddress = Record<string, PictureFile | null>;

const inSteps = (all: readonly string[], size = 500): string[][] =>
  Array.from({ length: Math.ceil(all.length / size) }, (_, i) => all.slice(i * size, (i + 1) * size));

/** What is known of these addresses at an instant; those that are to be looked for, for the first time or again, are left out. */
export async function knownPictures(
  db: Store,
  clientId: string,
  addresses: readonly string[],
  now: string,
): Promise<PicturesByAddress> {
  const known: PicturesByAddress = {};
  for (const some of inSteps(addresses)) {
    const rows = await db
      .selectFrom('item_picture')
      .selectAll()
      .where('client_id', '=', clientId)
      .where('address', 'in', some)
      .execute();
    for (const { address, file, type, width, height, next_at } of rows) {
      if (file !== null)
        known[address] = { kind: 'image', file, type: type!, width: width!, height: height!, pale: false };
      else if (next_at !== null && next_at > now) known[address] = null;
    }
  }
  return known;
}

/** How often an address was tried in vain. */
export async function triesOf(db: Store, clientId: string, address: string): Promise<number> {
  const row = await db
    .selectFrom('item_picture')
    .select('tries')
    .where('client_id', '=', clientId)
    .where('address', '=', address)
    .executeTakeFirst();
  return row?.tries ?? 0;
}

/** What came of looking for a picture. */
export type PictureLook = { picture: PictureFile } | { trouble: string; tries: number; nextAt: string };

/** Keeps what came of looking for a picture; of many, those that were looked for longest ago are forgotten. */
export async function keepPicture(
  db: Store,
  clientId: string,
  address: string,
  looked: PictureLook,
  at: string,
): Promise<void> {
  const values =
    'picture' in looked
      ? {
          file: looked.picture.file,
          type: looked.picture.type,
          width: looked.picture.width,
          height: looked.picture.height,
          trouble: null,
          tries: 0,
          next_at: null,
          at,
        }
      : {
          file: null,
          type: null,
          width: null,
          height: null,
          trouble: looked.trouble,
          tries: looked.tries,
          next_at: looked.nextAt,
          at,
        };
  await db
    .insertInto('item_picture')
    .values({ client_id: clientId, address, ...values })
    .onConflict((c) => c.columns(['client_id', 'address']).doUpdateSet(values))
    .execute();
  await db
    .deleteFrom('item_picture')
    .where('client_id', '=', clientId)
    .where('address', 'in', (q) =>
      q
        .selectFrom('item_picture')
        .select('address')
        .where('client_id', '=', clientId)
        .orderBy('at', 'desc')
        .limit(1_000_000)
        .offset(MOST_ITEM_PICTURES),
    )
    .execute();
}

/** The kind of file that a picture of one of the client's items is, or null for none of them. */
export async function itemPictureType(db: Store, clientId: string, file: string): Promise<string | null> {
  const row = await db
    .selectFrom('item_picture')
    .select('type')
    .where('client_id', '=', clientId)
    .where('file', '=', file)
    .executeTakeFirst();
  return row?.type ?? null;
}

/** Why these are not to be had, each reason once. */
export async function pictureTroubles(db: Store, clientId: string, addresses: readonly string[]): Promise<string[]> {
  const found = new Set<string>();
  for (const some of inSteps(addresses)) {
    const rows = await db
      .selectFrom('item_picture')
      .select('trouble')
      .where('client_id', '=', clientId)
      .where('address', 'in', some)
      .where('file', 'is', null)
      .execute();
    for (const { trouble } of rows) if (trouble !== null) found.add(trouble);
  }
  return [...found];
}
