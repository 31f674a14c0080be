import { Router } from 'express';
import sharp from 'sharp';
import type { Faults } from './faults.ts';
import { hashText, randomFrom } from './random.ts';

const [WIDTH, HEIGHT] = [640, 480];
/** Light of a day: of the sky above and below, of what lies far and near. */
const LIGHTS = [
  ['#cfe3ee', '#f6efdf', '#9db9a2', '#5c8567'],
  ['#f7d9b8', '#f6efdf', '#b08f86', '#6d5560'],
  ['#bcd0e6', '#eef3f7', '#8fa6bd', '#4f6a86'],
  ['#e8e3c8', '#fbf8ee', '#b5b676', '#7f8a3f'],
] as const;

/** A line of hills from edge to edge. */
function hills(next: () => number, top: number, swing: number): string {
  const points = Array.from({ length: 6 }, (_, i) => [(i * WIDTH) / 5, top + (next() - 0.5) * swing] as const);
  const curve = points.slice(1).map(([x, y], i) => {
    const [px, py] = points[i]!;
    const half = (px + x) / 2;
    return `C${half} ${py.toFixed(0)} ${half} ${y.toFixed(0)} ${x} ${y.toFixed(0)}`;
  });
  return `M0 ${points[0]![1].toFixed(0)}${curve.join('')}V${HEIGHT}H0Z`;
}

/** A landscape that is always the same for a name. */
function landscape(name: string): string {
  const next = randomFrom(hashText(name));
  const [above, below, far, near] = LIGHTS[Math.floor(next() * LIGHTS.length)]!;
  const sun = `<circle cx="${80 + next() * 480}" cy="${70 + next() * 90}" r="${26 + next() * 22}" fill="#fffaf0"/>`;
  const trees = Array.from({ length: 7 }, () => {
    const [x, h] = [next() * WIDTH, 40 + next() * 60];
    return `<path d="M${x} ${HEIGHT - 40}l-${h / 3} 0l${h / 3} -${h}l${h / 3} ${h}z" fill="${near}" opacity=".85"/>`;
  });
  return `<svg xmlns="http://www.w3.org/2000/svg" width="${WIDTH}" height="${HEIGHT}"><defs><linearGradient id="s" x2="0" y2="1">
    <stop stop-color="${above}"/><stop offset="1" stop-color="${below}"/></linearGradient></defs>
    <rect width="100%" height="100%" fill="url(#s)"/>${sun}
    <path d="${hills(next, 250, 120)}" fill="${far}"/><path d="${hills(next, 360, 90)}" fill="${near}"/>${trees.join('')}</svg>`;
}

/** The pictures of posts, each at its address, which needs no token: found by whoever knows it, as long as the account behaves. */
export function postPictures(faults: Faults): Router {
  const router = Router();
  router.get('/pictures/:account/:name.jpg', async (req, res) => {
    const { account, name } = req.params;
    const fault = faults.of(account);
    if (fault === 'down' || fault === 'busy') {
      res.status(fault === 'down' ? 500 : 429).end();
      return;
    }
    if (fault === 'slow') {
      const timer = setTimeout(() => res.status(504).end(), 60_000);
      res.on('close', () => clearTimeout(timer));
      return;
    }
    // An address of a picture is good for a while: the token that was revoked takes it along.
    if (fault === 'refused') {
      res.status(404).end();
      return;
    }
    const picture = await sharp(Buffer.from(landscape(`${account} ${name}`)))
      .jpeg({ quality: 85 })
      .toBuffer();
    res.type('image/jpeg').send(fault === 'broken' ? picture.subarray(0, 200) : picture);
  });
  return router;
}
