import { createHash } from 'node:crypto';
import type { Answers } from '@chronicon/core/figures';
import {
  type DrawOrder,
  type FrozenMail,
  logoPage,
  type MadePicture,
  mailPieces,
  readable,
  type ScenePage,
} from '@chronicon/core/page';
import { inputOf } from './draw.ts';
import { paintPicture } from './picturePainter.ts';
import type { Shaper } from './shaper.ts';

/** What a mail shows of an edition, and the files of its pictures by their SHA-256. */
export interface DrawnMail {
  mail: FrozenMail;
  pictures: Uint8Array[];
}

/** Draws what the mail shows of a report: a chart, and a logo that is a drawing, become pictures. */
export async function drawMail(order: DrawOrder, answers: Answers, shaper: Shaper): Promise<DrawnMail | null> {
  if (!order.mailBlocks) return null;
  const pictures: Uint8Array[] = [];
  const made = async (page: ScenePage): Promise<MadePicture> => {
    const { data, width, height } = await paintPicture(page, shaper);
    pictures.push(data);
    return { file: createHash('sha256').update(data).digest('hex'), width, height };
  };
  const shown: FrozenMail['shown'] = [];
  for (const piece of mailPieces(inputOf(order, answers, shaper), order.mailBlocks)) {
    shown.push(piece.kind === 'chart' ? { ...piece, ...(await made(piece.page)) } : piece);
  }
  const { logo, mailHead } = order.brand;
  const page = logo?.kind === 'vector' && !mailHead ? logoPage(logo, readable(order.brand.main)) : null;
  return { mail: { shown, logo: page && { page, ...(await made(page)) } }, pictures };
}

/** The pictures of a frozen mail once more: the same bytes within one version of the painter. */
export async function repaintMail({ shown, logo }: FrozenMail, shaper: Shaper): Promise<Uint8Array[]> {
  const pages = [...shown.flatMap((s) => (s.kind === 'chart' ? [s.page] : [])), ...(logo ? [logo.page] : [])];
  const painted: Uint8Array[] = [];
  for (const page of pages) painted.push((await paintPicture(page, shaper)).data);
  return painted;
}
