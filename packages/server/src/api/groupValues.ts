import type { ReadersGroups } from '@chronicon/core/report';
import { datasetsOf } from '../facts/factReader.ts';
import { allLabels } from '../figures/ask.ts';
import type { Reading } from './reads/reading.ts';

/** Values of a dimension in a client's data. */
export const valuesIn = async (api: Reading, clientId: string, dimension: string): Promise<string[]> =>
  (await allLabels(api, await datasetsOf(api.facts, clientId), dimension)).filter((v) => v !== '');

/** Values in the data that no group is for and that nobody has said go to nobody. */
export async function newValues(api: Reading, clientId: string, groups: ReadersGroups): Promise<string[]> {
  const known = new Set([...groups.groups.map((g) => g.value), ...groups.without]);
  return (await valuesIn(api, clientId, groups.by)).filter((v) => !known.has(v));
}
