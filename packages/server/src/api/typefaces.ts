import { MOST_TYPEFACES } from '@chronicon/core/bounds';
import type { RouteName } from '@chronicon/core/contract';
import type { Typefaces } from '@chronicon/core/report';
import type { Session } from '../access/sessions.ts';
import { atField, notFound, Refusal } from '../platform/refusal.ts';
import { clientIdsSeen } from '../store/clients.ts';
import { record } from '../store/ledger.ts';
import type { Member } from '../store/members.ts';
import { inTransaction, type Store } from '../store/store.ts';
import {
  addTypeface,
  hasTypefaces,
  removeTypeface,
  type StoredTypeface,
  setBold,
  typefacesOf,
  typefaceUses,
} from '../store/typefaces.ts';
import type { Api, Handlers } from './context.ts';

/** @throws Refusal where a kit would write with what is not there */
export async function checkTypefaces(db: Store, typefaces: Typefaces | undefined): Promise<void> {
  if (!(await hasTypefaces(db, typefaces)))
    throw atField('typefaces', 'This font was deleted or its bold file changed. Choose it again.');
}

/** Kits that write with each typeface: by name those that a member sees, the others as others. */
async function usesSeenBy(db: Store, member: Member): Promise<(typeface: StoredTypeface) => string[]> {
  const seen = await clientIdsSeen(db, { member });
  const uses = await typefaceUses(db);
  return ({ regular, bold }) => {
    const whose = uses
      .filter((u) => u.files.some((f) => f === regular || f === bold))
      .map((u) => (u.client === null || seen.has(u.client) ? u.whose : 'another client'));
    return [...new Set(whose)];
  };
}

async function described(db: Store, typeface: StoredTypeface, member: Member) {
  return { ...typeface, usedBy: (await usesSeenBy(db, member))(typeface) };
}

async function theTypeface(db: Store, id: string): Promise<StoredTypeface> {
  const found = (await typefacesOf(db)).find((t) => t.id === id);
  if (!found) throw notFound('typeface');
  return found;
}

/**
 * Keeps a file that was brought as a typeface, or as the bold weight of one.
 * @param boldOf the typeface that it is the bold one of; null: a new one
 * @throws Refusal in words for whoever brought it
 */
export async function takeTypeface(api: Api, session: Session, data: Buffer, name: string, boldOf: string | null) {
  const found = await api.pictures.readTypeface(data, api.files);
  const at = api.clock.now();
  const { id: by } = session.member;
  const id = await inTransaction(api.store, async (tx) => {
    const note = async (subject: string, detail: { name: string; weight: 'regular' | 'bold' }) =>
      record(tx, { at, actor: by, action: 'typeface.brought', subject, detail });
    if (boldOf !== null) {
      const typeface = await theTypeface(tx, boldOf);
      const users = (await described(tx, typeface, session.member)).usedBy;
      if (typeface.bold !== null && typeface.bold !== found.file && users.length > 0)
        throw new Refusal(
          409,
          `${users.join(', ')} ${users.length === 1 ? 'writes' : 'write'} with its bold file. Upload the other as a separate font.`,
        );
      await setBold(tx, typeface.id, found.file);
      await note(typeface.id, { name: typeface.name, weight: 'bold' });
      return typeface.id;
    }
    const all = await typefacesOf(tx);
    const same = all.find((t) => t.regular === found.file);
    if (same) return same.id;
    if (all.length >= MOST_TYPEFACES) throw new Refusal(422, `Limit reached: ${MOST_TYPEFACES} fonts.`);
    const called = (found.name || name.replace(/\.[^.]+$/, '') || 'A font').slice(0, 60);
    const made = await addTypeface(tx, { name: called, regular: found.file, said: found.said }, at, by);
    await note(made, { name: called, weight: 'regular' });
    return made;
  });
  return described(api.store, await theTypeface(api.store, id), session.member);
}

export const typefaceHandlers: Handlers<Extract<RouteName, `${string} /api/typefaces${string}`>> = {
  'GET /api/typefaces': async ({ api, session }) => {
    const usedBy = await usesSeenBy(api.store, session.member);
    return (await typefacesOf(api.store)).map((t) => ({ ...t, usedBy: usedBy(t) }));
  },

  'DELETE /api/typefaces/:typeface': async ({ api, session, params }) => {
    const at = api.clock.now();
    await inTransaction(api.store, async (tx) => {
      const typeface = await theTypeface(tx, params.typeface);
      const { usedBy } = await described(tx, typeface, session.member);
      if (usedBy.length > 0)
        throw new Refusal(
          409,
          `${usedBy.join(', ')} ${usedBy.length === 1 ? 'writes' : 'write'} with it. Choose another there first.`,
        );
      await removeTypeface(tx, typeface.id, at);
      const detail = { name: typeface.name };
      await record(tx, { at, actor: session.member.id, action: 'typeface.removed', subject: typeface.id, detail });
    });
    return { done: true };
  },
};
