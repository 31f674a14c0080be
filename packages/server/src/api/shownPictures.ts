import type { DrawOrder } from '@chronicon/core/page';
import { LRUCache } from 'lru-cache';
import { knownPictures, pictureTroubles } from '../store/itemPictures.ts';
import type { PreviewResult } from '../workers/worker.ts';
import type { Api } from './context.ts';

/** Addresses of the pictures that a report showed when it was last looked at. */
const shown = new LRUCache<string, string[]>({ max: 2_000 });

export const picturesShown = (report: string): readonly string[] => shown.get(report) ?? [];

/** The pages of a report with the pictures that are known; which of them it shows is known once it is drawn. */
export async function previewWithPictures(
  api: Api,
  report: string,
  order: DrawOrder,
  have: string[],
  pages: number | null,
): Promise<PreviewResult & { wants: string[]; troubles: string[] }> {
  const known = (addresses: readonly string[]) => knownPictures(api.store, order.clientId, addresses, api.clock.now());
  const before = picturesShown(report);
  const pictures = await known(before);
  const drawn = await api.workers.preview({ ...order, pictures }, have, pages, before, known);
  const now = await known(drawn.pictures);
  shown.set(report, drawn.pictures);
  const lost = drawn.pictures.filter((a) => now[a] === null);
  return {
    ...drawn,
    wants: drawn.pictures.filter((a) => !(a in now)),
    troubles: await pictureTroubles(api.store, order.clientId, lost),
  };
}
