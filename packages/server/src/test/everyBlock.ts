import { answerAll, metricBook, NO_SETTINGS, type OwnMetric } from '@chronicon/core/figures';
import type { DrawOrder, Scene } from '@chronicon/core/page';
import { GALLERY_DATES, galleryFacts } from '@chronicon/core/page/gallery';
import { A4, type Block, type ReportDocument, type Typefaces } from '@chronicon/core/report';
import { knowledgeOf } from '../figures/reading.ts';
import { layOut, questionsFor } from '../render/draw.ts';
import { orderMetrics } from '../render/orderMetrics.ts';
import type { Shaper } from '../render/shaper.ts';

const HEBREW = 'מבצע של 12% הנחה (עד סוף החודש!) על כל המוצרים, כולל Lumora Ads.';
const ARABIC = 'ارتفعت المبيعات بنسبة ١٢٪ في أكتوبر (مقارنةً بسبتمبر) بفضل الحملة.';
const THAI = 'ยอดขายเพิ่มขึ้นร้อยละสิบสองในเดือนตุลาคมเมื่อเทียบกับเดือนกันยายน';
const EAST = '十月の売上は九月に比べて増加しました。 十月份的销售额增长了。 10월 매출은 증가했습니다.';

/** Lines of text of every script that there are faces for. */
export const SCRIPTS = { hebrew: HEBREW, arabic: ARABIC, thai: THAI, east: EAST, symbols: '★ ☂ → ⇒ ✓ 🎉 👍🏽 ½ é ñ' };

const rows = (blocks: readonly (readonly Block[])[]) =>
  blocks.map((b, i) => ({ id: `${b[0]!.id}-row${i}`, blocks: [...b] }));
const note = (id: string, text: string): Block => ({ kind: 'commentary', id, span: 'standing', text });

const document: ReportDocument = {
  version: 2,
  period: { kind: 'fixed', ...GALLERY_DATES.period },
  comparison: { kind: 'previous' },
  attachFigures: true,
  assumptions: [{ key: 'margin', label: 'Margin', unit: 'percent', value: 0.25 }],
  pages: [
    {
      id: 'p1',
      title: 'Overview',
      rows: rows([
        [{ kind: 'cover', id: 'co', text: 'What October brought, and what we would do next.' }],
        [{ kind: 'opening', id: 'o', metric: 'revenue', dimension: 'channel' }],
        [note('n1', `What we did.\n\n- A first point\n- ${HEBREW}`)],
        [{ kind: 'kpiRow', id: 'k', metrics: ['visits', 'revenue', 'orderRate'] }],
        [{ kind: 'trend', id: 't', metric: 'revenue', title: '' }],
        [
          { kind: 'ranking', id: 'r', dimension: 'channel', metrics: ['revenue', 'visits'], n: 5, title: '' },
          { kind: 'drivers', id: 'd', dimension: 'channel', metric: 'revenue', n: 5, title: '' },
        ],
      ]),
    },
    {
      id: 'p2',
      title: 'Across',
      paper: { orientation: 'landscape' },
      rows: rows([
        [{ kind: 'heading', id: 'h', text: 'Where visits began' }],
        [{ kind: 'rhythm', id: 'w', metric: 'visits', title: '' }],
        (['bars', 'ring'] as const).map(
          (form): Block => ({
            kind: 'share',
            id: form,
            metric: 'visits',
            dimension: 'device',
            form,
            limit: 3,
            title: '',
          }),
        ),
        [
          {
            kind: 'ranking',
            id: 'r2',
            dimension: 'landingPage',
            metrics: ['visits', 'bounceRate'],
            n: 20,
            title: HEBREW.slice(0, 4),
          },
        ],
        [
          { kind: 'kpi', id: 'k1', metric: 'revenue', columns: 5 },
          { kind: 'pace', id: 'pa', metric: 'revenue', title: '' },
        ],
        [
          { kind: 'stages', id: 'st', metrics: ['pageViews', 'visits', 'orders'], title: '' },
          { kind: 'whatIf', id: 'wi', metrics: ['profit', 'revenue'], title: '' },
        ],
        [
          {
            kind: 'peers',
            id: 'pe',
            metric: 'followers',
            theirs: 'competitorFollowers',
            dimension: 'competitor',
            title: '',
          },
          { kind: 'topics', id: 'to', metric: 'topicPosts', dimension: 'hashtag', n: 5, title: '' },
        ],
        [{ kind: 'standouts', id: 'so', metric: 'postEngagements', dimension: 'post', ends: 'both', n: 3, title: '' }],
        [{ kind: 'notes', id: 'no', title: '' }],
        Object.values(SCRIPTS)
          .map((text, i) => note(`s${i}`, text))
          .slice(0, 3),
        Object.values(SCRIPTS)
          .map((text, i) => note(`s${i}`, text))
          .slice(3),
      ]),
    },
  ],
};

const PROFIT: OwnMetric = {
  key: 'profit',
  label: 'Profit',
  unit: 'money',
  polarity: 'higher',
  formula: 'revenue * margin',
  definition: '',
};
const ASSUMED = { margin: 0.3 };

const SQUARE = 'M0 0L40 0L40 20L0 20Z';

/** An order for a report with all there is: every kind of block, a drawn logo, lists, other scripts, figures that go along. */
export const everything = (language: string): DrawOrder => ({
  ...GALLERY_DATES,
  clientId: 'cl_every',
  clientName: 'Tarnbeck & Söhne <קליניקה>',
  agencyName: 'Fernglass Media',
  manager: { name: 'Ines Tallow', email: 'ines.tallow@fernglass.example' },
  asOf: '2026-11-02',
  title: 'Monthly overview & more',
  document,
  paper: A4,
  ...orderMetrics({ ...NO_SETTINGS, own: [PROFIT] }, document, ASSUMED),
  assumed: ASSUMED,
  site: 'tarnbeck.example',
  targets: [{ metric: 'revenue', span: 'month', from: '2026-10', repeats: true, value: 42_000 }],
  at: '2026-10-22',
  holidays: [],
  dayNotes: [{ from: '2026-10-10', to: '2026-10-11', text: 'The kiln was out of order.' }],
  commentary: {},
  brand: {
    main: '#274e66',
    second: '#d98f3d',
    footer: '',
    logo: {
      kind: 'vector',
      width: 40,
      height: 20,
      paths: [{ d: SQUARE, fill: '#274e66', stroke: null, strokeWidth: 0, evenOdd: false }],
    },
  },
  mailMetrics: [],
  language,
  currency: language.startsWith('he') ? 'ILS' : 'GBP',
});

/** The same as it is laid out, from the gallery's facts. */
export function everyScene(language: string, shaper: Shaper, typefaces?: Typefaces): Scene {
  const usual = everything(language);
  const order = typefaces ? { ...usual, brand: { ...usual.brand, typefaces } } : usual;
  const facts = galleryFacts('full', metricBook(order.metrics));
  return layOut(order, answerAll(questionsFor(order), facts, knowledgeOf(order)), shaper);
}
