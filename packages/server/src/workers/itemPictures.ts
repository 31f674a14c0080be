import { PICTURE, PICTURES_AT_ONCE } from '@chronicon/core/bounds';
import { addMinutes } from '@chronicon/core/calendar';
import pLimit from 'p-limit';
import { FeedError } from '../feeds/connector.ts';
import { fetchFile } from '../feeds/http.ts';
import type { FeedTools } from '../feeds/tools.ts';
import { forAWhile, unwatched } from '../platform/asking.ts';
import type { Files } from '../store/files.ts';
import { keepPicture, knownPictures, type PicturesByAddress, triesOf } from '../store/itemPictures.ts';
import type { Pictures } from './pictures.ts';
import { LogoError } from './svgLogo.ts';

export interface PictureTools extends Pick<FeedTools, 'store' | 'clock' | 'config' | 'log'> {
  files: Files;
  pictures: Pictures;
}

/** Requests side by side for one report; milliseconds that one may take. */
const SIDE_BY_SIDE = 6;
const PATIENCE = 8_000;
/** Minutes until what was not to be had is looked for again: growing, up to a day. */
const AGAIN = 15;
const AGAIN_MOST = 24 * 60;
/** Of the time that a person waits, the part in which pictures are fetched. */
const SHARE = 0.5;

/** A picture from its address, cut small and kept. @throws FeedError or LogoError in words */
async function fetchPicture({ config, files, pictures }: PictureTools, address: string) {
  if (!URL.canParse(address)) throw new FeedError('broken', 'It has no valid address.');
  const url = new URL(address);
  const headers = { accept: 'image/jpeg, image/png, image/webp, image/gif' };
  const { status, body } = await fetchFile({ url, headers, timeout: PATIENCE, network: config.network }, PICTURE.bytes);
  if (status !== 200) throw new FeedError('down', `Its server answered ${status}.`);
  return pictures.readSmall(body, files);
}

async function lookFor(tools: PictureTools, clientId: string, address: string): Promise<boolean> {
  const { store, clock, log } = tools;
  try {
    const picture = await fetchPicture(tools, address);
    await keepPicture(store, clientId, address, { picture }, clock.now());
    return true;
  } catch (error) {
    if (!(error instanceof FeedError || error instanceof LogoError)) throw error;
    const trouble = error.message;
    const tries = (await triesOf(store, clientId, address)) + 1;
    const now = clock.now();
    const nextAt = addMinutes(now, Math.min(AGAIN_MOST, AGAIN * 2 ** Math.min(tries - 1, 10)));
    await keepPicture(store, clientId, address, { trouble, tries, nextAt }, now);
    log.warn({ client: clientId, address, reason: trouble }, 'a picture of an item was not to be had');
    return false;
  }
}

/**
 * Fetches the pictures of items that are not known yet, as far as their places answer in time, and keeps them as files
 * of the data folder. A report is as true without them: what is not to be had is left blank.
 * @returns how many came
 */
export async function fetchPictures(
  tools: PictureTools,
  clientId: string,
  addresses: readonly string[],
): Promise<number> {
  const known = await knownPictures(tools.store, clientId, addresses, tools.clock.now());
  const wanted = addresses.filter((a) => !(a in known)).slice(0, PICTURES_AT_ONCE);
  const limit = pLimit(SIDE_BY_SIDE);
  let came = 0;
  const all = unwatched(() =>
    Promise.all(
      wanted.map((address) =>
        limit(async () => {
          if (await lookFor(tools, clientId, address)) came++;
        }),
      ),
    ),
  );
  await forAWhile(all, SHARE);
  return came;
}

/** The pictures at these addresses, fetched where they are not known yet; null for what is not to be had. */
export async function picturesAt(
  tools: PictureTools,
  clientId: string,
  addresses: readonly string[],
): Promise<PicturesByAddress> {
  await fetchPictures(tools, clientId, addresses);
  const known = await knownPictures(tools.store, clientId, addresses, tools.clock.now());
  return Object.fromEntries(addresses.map((a) => [a, known[a] ?? null]));
}
