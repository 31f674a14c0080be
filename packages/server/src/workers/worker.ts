import type { Figures } from '@chronicon/core/contract';
import { type Answers, type Lack, picturesOf, type Question } from '@chronicon/core/figures';
import {
  type DrawOrder,
  type Frozen,
  type FrozenForMail,
  readFrozen,
  remarksOf,
  type Scene,
  type ScenePage,
  undrawableIn,
} from '@chronicon/core/page';
import { composeGallery, type GalleryState, pageFaults } from '@chronicon/core/page/gallery';
import { broughtIn, type Format, filesOfTypeface } from '@chronicon/core/report';
import { createColumnCache } from '../facts/columnCache.ts';
import { openFactReader } from '../facts/factStore.ts';
import {
  type Asked,
  askAll,
  type Basis,
  type Explained,
  explain,
  type OneFigure,
  type RowsPage,
  rowsBehind,
} from '../figures/reading.ts';
import { type FiguresView, figuresReply } from '../figures/reply.ts';
import { questionsOfPlan } from '../figures/viewQuestions.ts';
import { figuresFile } from '../render/attachedFigures.ts';
import { type AnsweredOrder, answerOrder, COMPOSE_VERSION, layOut, look, turnedWords } from '../render/draw.ts';
import { fontHashes } from '../render/fonts.ts';
import { type DrawnMail, drawMail, repaintMail } from '../render/mailPictures.ts';
import { paintPdf } from '../render/pdfPainter.ts';
import { createShaper } from '../render/shaper.ts';
import { TABLE_FORMATS } from '../render/tables/formats.ts';
import { createThreadCache, digest } from '../render/threadCache.ts';
import { openFiles } from '../store/files.ts';
import { type TableOrder, tableOf } from './figuresTable.ts';
import { Written } from './written.ts';

/** What the pool asks of a worker. */
export type Task =
  | { kind: 'preview'; order: DrawOrder; have: string[]; pages: number | null; looked: string[] }
  | { kind: 'edition'; order: DrawOrder; created: string }
  | { kind: 'paint'; order: DrawOrder; created: string }
  | { kind: 'mail'; order: DrawOrder }
  | { kind: 'repaint'; frozen: string; created: string }
  | { kind: 'pictures'; frozen: string }
  | { kind: 'figuresFile'; frozen: string; format: Format; created: string }
  | { kind: 'ask'; basis: Basis; questions: Question[] }
  | { kind: 'figures'; view: FiguresView }
  | { kind: 'table'; order: TableOrder }
  | { kind: 'explain'; basis: Basis; figure: OneFigure }
  | { kind: 'rows'; basis: Basis; figure: OneFigure; source: number; page: number }
  | { kind: 'gallery'; language: string; state: GalleryState }
  | { kind: 'warm' };

/** A task, and the data folder that it reads. */
export interface Order {
  data: string;
  task: Task;
}

/** What each task comes back with. */
export interface Results {
  preview: PreviewResult | Wants;
  edition: EditionResult | Wants | Unwritten;
  paint: { pdf: Uint8Array } | Wants;
  mail: MailResult;
  repaint: Uint8Array;
  pictures: Uint8Array[];
  figuresFile: Uint8Array;
  ask: Asked;
  figures: Written<Figures>;
  table: Uint8Array;
  explain: Explained;
  rows: RowsPage;
  gallery: GalleryResult;
  warm: null;
}

/** Addresses of pictures without which nothing is drawn: they were not looked for yet. */
export interface Wants {
  wants: string[];
}

/** What a mail shows of a report as it is, whatever it lacks. */
export interface MailResult {
  order: DrawOrder;
  answers: Answers;
  drawn: DrawnMail | null;
  lacks: Lack[];
}

export interface GalleryResult {
  lang: string;
  pages: { page: ScenePage; faults: string[] }[];
}

export interface PreviewResult {
  lang: string;
  pages: Written<{ hash: string; page: ScenePage | null }[]>;
  lacks: Lack[];
  /** Addresses of the pictures of all items that stand out. */
  pictures: string[];
  /** Of the pages that were drawn. */
  remarks: string[];
  /** Pages of the design that are left to draw. */
  rest: number;
}

/** Either the drawn edition, or what it lacks: never both, so that a half report cannot be sent. */
export type EditionResult =
  | { lacks: Lack[] }
  | {
      /** Names of its files, which are on the disk. */
      frozen: string;
      pdf: string;
      revision: string;
      turned: string[];
      undrawable: string | null;
      /** Of what is frozen, what its mails are written from. */
      forMail: FrozenForMail;
    };

/** A file could not be written: what the system said of it, which no error carries out of a thread. */
export interface Unwritten {
  unwritten: { code: string; message: string };
}

/** A brought face is found in the folder of the task that is being done. */
const shaper = createShaper((hash) => open!.files.read(hash));

/** Bytes of columns that a thread keeps: what one person looks at stays at hand while they change the filter. */
const KEPT_COLUMNS = 64 * 1024 * 1024;
/** The same of clients whose editions are drawn: one's groups come one after the other, and then nobody asks for it again. */
const EDITION_COLUMNS = 8 * 1024 * 1024;

/** What is read of one data folder. */
function openRoom(data: string) {
  // Leftovers are swept by the server alone.
  const files = openFiles(data, 0);
  return {
    data,
    facts: openFactReader(data),
    files,
    columns: createColumnCache(KEPT_COLUMNS),
    editionColumns: createColumnCache(EDITION_COLUMNS),
    kept: createThreadCache(),
    /** Files of typefaces that were read whole once. */
    faces: new Set<string>(),
    readImage: (file: string) => files.read(file),
  };
}
type Room = ReturnType<typeof openRoom>;

/** The order by what its kit's typefaces come to: where one's file is not to be read, those of the house, and which it is. */
function withFaces(room: Room, order: DrawOrder): { order: DrawOrder; lost: Lack[] } {
  const isThere = (file: string): boolean => {
    if (room.faces.has(file)) return true;
    try {
      room.readImage(file);
    } catch {
      return false;
    }
    room.faces.add(file);
    return true;
  };
  const { typefaces } = order.brand;
  const names = broughtIn(typefaces).flatMap((t) => (filesOfTypeface(t).every(isThere) ? [] : [t.name]));
  if (names.length === 0) return { order, lost: [] };
  const { typefaces: _, ...brand } = order.brand;
  return { order: { ...order, brand }, lost: [{ kind: 'typeface', names: [...new Set(names)] }] };
}

let open: Room | null = null;
/** The folder that a task is for: of a server that is one of several of a process, another one than before perhaps. */
function roomOf(data: string): Room {
  if (open?.data === data) return open;
  open?.facts.destroy().catch(() => undefined);
  open = openRoom(data);
  return open;
}

/** By the page itself: what is kept of a report that is edited is the same object each time. */
const hashes = new WeakMap<ScenePage, string>();

function hashOf(page: ScenePage): string {
  const known = hashes.get(page);
  if (known) return known;
  const hash = digest(JSON.stringify(page)).slice(0, 22);
  hashes.set(page, hash);
  return hash;
}

/** The first pages of a long report are shown before the others are drawn. */
async function preview(
  room: Room,
  { order: asked, have, pages: upTo, looked }: Extract<Task, { kind: 'preview' }>,
): Promise<Results['preview']> {
  const { order, lost } = withFaces(room, asked);
  const all = order.document.pages;
  const rest = upTo === null ? 0 : Math.max(0, all.length - upTo);
  const shown = rest === 0 ? order : { ...order, document: { ...order.document, pages: all.slice(0, upTo!) } };
  const drawn = await look(shown, room.facts, shaper, room.columns, room.kept, looked);
  if (drawn.scene === null) return { wants: drawn.pictures };
  const { scene, lacks, pictures } = drawn;
  const pages = scene.pages.map((page) => {
    const hash = hashOf(page);
    return { hash, page: have.includes(hash) ? null : page };
  });
  return {
    lang: scene.lang,
    pages: Written.of(pages),
    lacks: [...lost, ...lacks],
    pictures,
    remarks: remarksOf(scene),
    rest,
  };
}

const wantsOf = (order: DrawOrder, { answers }: Pick<AnsweredOrder, 'answers'>): string[] =>
  order.pictures ? [] : picturesOf(answers);

async function edition(room: Room, order: DrawOrder, created: string): Promise<Results['edition']> {
  const { lost } = withFaces(room, order);
  if (lost.length > 0) return { lacks: lost };
  const drawn = await answerOrder(order, room.facts, room.editionColumns);
  if (drawn.lacks.length > 0) return { lacks: drawn.lacks };
  const wants = wantsOf(order, drawn);
  if (wants.length > 0) return { wants };
  const scene = layOut(order, drawn.answers, shaper);
  const turned = turnedWords(order, drawn.answers);
  const drawnMail = await drawMail(order, drawn.answers, shaper);
  const frozen: Frozen = {
    created,
    order,
    answers: drawn.answers,
    coverage: drawn.coverage,
    fonts: fontHashes(new Set(scene.pages.flatMap((p) => p.ops.flatMap((o) => (o.k === 'text' ? [o.face] : []))))),
    composeVersion: COMPOSE_VERSION,
    scene,
    ...(drawnMail && { mail: drawnMail.mail }),
    turned,
  };
  const pdf = await paintPdf(scene, shaper, room.readImage, new Date(created));
  try {
    for (const picture of drawnMail?.pictures ?? []) room.files.write(picture);
    return {
      frozen: room.files.write(Buffer.from(JSON.stringify(frozen))),
      pdf: room.files.write(pdf),
      revision: drawn.revision,
      turned,
      undrawable: undrawableIn(scene),
      forMail: { order, answers: drawn.answers, ...(drawnMail && { mail: drawnMail.mail }) },
    };
  } catch (error) {
    const { code, message } = error as NodeJS.ErrnoException;
    if (code === undefined) throw error;
    return { unwritten: { code, message } };
  }
}

/** The PDF of what is looked at, whatever it lacks: nothing of it is kept. */
async function paint(room: Room, asked: DrawOrder, created: string): Promise<{ pdf: Uint8Array } | Wants> {
  const { order } = withFaces(room, asked);
  const drawn = await answerOrder(order, room.facts, room.columns);
  const wants = wantsOf(order, drawn);
  if (wants.length > 0) return { wants };
  return { pdf: await paintPdf(layOut(order, drawn.answers, shaper), shaper, room.readImage, new Date(created)) };
}

/** What the mail of an order would show; nothing of it is kept. */
async function mail(room: Room, asked: DrawOrder): Promise<MailResult> {
  const { order, lost } = withFaces(room, asked);
  const { answers, lacks } = await answerOrder(order, room.facts, room.columns);
  return { order, answers, drawn: await drawMail(order, answers, shaper), lacks: [...lost, ...lacks] };
}

const frozenOf = (room: Room, hash: string): Frozen => readFrozen(room.files.read(hash).toString('utf8'));

/** The PDF of a frozen edition once more, from its scene: the same bytes within one version of the painter. */
async function repaint(room: Room, frozen: string, created: string): Promise<Uint8Array> {
  const kept = frozenOf(room, frozen);
  return paintPdf(kept.scene, shaper, room.readImage, new Date(kept.created ?? created));
}

/** The pictures of a frozen edition's mail once more. */
async function pictures(room: Room, frozen: string): Promise<Uint8Array[]> {
  const { mail } = frozenOf(room, frozen);
  return mail ? repaintMail(mail, shaper) : [];
}

const viewed = async (room: Room, view: FiguresView): Promise<Figures> =>
  figuresReply(view, await askAll(room.facts, view.basis, questionsOfPlan(view.plan), room.columns));

async function table(room: Room, { view, names, as, created }: TableOrder): Promise<Uint8Array> {
  const { currency } = view;
  return TABLE_FORMATS[as]!.write(tableOf(await viewed(room, view), { ...names, currency }), created);
}

function gallery(language: string, state: GalleryState): GalleryResult {
  const { lang, pages } = composeGallery(language, state, shaper);
  return { lang, pages: pages.map((page) => ({ page, faults: pageFaults(page) })) };
}

const NO_IMAGE = (): never => {
  throw new Error('there is no picture on it');
};

/** The first document of a process is slow: one is drawn before any is asked for. */
async function warm(): Promise<null> {
  const scene: Scene = {
    version: 1,
    lang: 'en-GB',
    title: 'Warm',
    author: '',
    pages: [
      {
        title: 'Warm',
        width: 595.28,
        height: 841.89,
        blocks: [],
        ops: (['sans', 'sansBold', 'serif', 'serifBold'] as const).map((face) => ({
          k: 'text' as const,
          x: 50,
          y: 50,
          w: 60,
          face,
          size: 10,
          fill: '#000000',
          text: 'Visits 0123456789 %£€',
        })),
      },
    ],
  };
  await paintPdf(scene, shaper, NO_IMAGE, new Date(0));
  return null;
}

export default async function run({ data, task }: Order): Promise<Results[Task['kind']]> {
  const room = roomOf(data);
  switch (task.kind) {
    case 'preview':
      return preview(room, task);
    case 'edition':
      return edition(room, task.order, task.created);
    case 'paint':
      return paint(room, task.order, task.created);
    case 'mail':
      return mail(room, task.order);
    case 'repaint':
      return repaint(room, task.frozen, task.created);
    case 'pictures':
      return pictures(room, task.frozen);
    case 'figuresFile':
      return figuresFile(frozenOf(room, task.frozen), task.format, task.created);
    case 'ask':
      return askAll(room.facts, task.basis, task.questions, room.columns);
    case 'figures':
      return Written.of(await viewed(room, task.view));
    case 'table':
      return table(room, task.order);
    case 'explain':
      return explain(room.facts, task.basis, task.figure);
    case 'rows':
      return rowsBehind(room.facts, task.basis, task.figure, task.source, task.page);
    case 'gallery':
      return gallery(task.language, task.state);
    case 'warm':
      return warm();
  }
}
