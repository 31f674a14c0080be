import { type Change, changeOf, DIMENSION_KEYS, type Metric, type Odd, STANDARD } from '../../figures/index.ts';
import {
  conversionWords,
  createFormatter,
  dayNoteWords,
  feedLackWords,
  fill,
  fullStop,
  nameForms,
  oddNotes,
  openingSentence,
  type PeriodWords,
  titleBy,
  whySentence,
  withoutDaysWords,
} from '../index.ts';
import { CHANGES, OCTOBER, RANGES, VALUES } from './situations.ts';

const CURRENCIES: Record<string, string> = {
  'en-GB': 'GBP',
  'en-US': 'USD',
  'en-CA': 'CAD',
  'fr-CA': 'CAD',
  'pl-PL': 'PLN',
  'ru-RU': 'RUB',
  'he-IL': 'ILS',
};
const COUNTS = [0, 1, 2, 3, 5, 21];

/** All that pages and mails compose in one language, a sentence a line under the name of its situation. */
export function wordsGrid(locale: string): string[] {
  const format = createFormatter(locale, CURRENCIES[locale] ?? 'EUR');
  const { words } = format;
  const lines: string[] = [];
  const head = (title: string) => lines.push('', `## ${title}`);
  const put = (name: string, ...texts: string[]) => lines.push(`${name} | ${texts.join(' ¦ ')}`);
  const labelOf = (key: string) => STANDARD.labelOf(key, words.metrics);
  const month = { ...format.period(OCTOBER), isTarget: false };

  head('Periods: in a heading, after a change, of what happened in it, in short');
  for (const [name, range] of RANGES) {
    const { title, against, during } = format.period(range);
    put(name, title, against, during, format.shortRange(range), fill(words.comparison, { label: title }));
  }
  for (const [name, { title, against, during }] of Object.entries(words.yardsticks)) put(name, title, against, during);
  for (const n of [1, 2, 6])
    put(`typical of ${n}`, format.count(words.typicalOf, n, { title: words.yardsticks.typical.title }));

  head('The opening');
  const opening = (metric: Metric, now: number, before: number, against: PeriodWords, isTarget = false) =>
    openingSentence(
      {
        metric,
        label: labelOf(metric.key),
        current: { value: now },
        before: { value: before },
        against: { ...against, isTarget },
        drivers: null,
        dimension: 'channel',
      },
      format,
    );
  const revenue = STANDARD.of('revenue');
  for (const [name, range] of RANGES) {
    const against = format.period(range);
    put(name, opening(revenue, 177_699, 142_389, against), opening(revenue, 0, 500, against));
  }
  for (const [name, against] of Object.entries(words.yardsticks)) {
    const isTarget = name === 'target';
    put(name, ...[177_699, 120_000, 142_400, 0].map((n) => opening(revenue, n, 142_389, against, isTarget)));
  }
  for (const metric of STANDARD.metrics) {
    const [high, low] = VALUES[metric.unit];
    put(metric.key, opening(metric, high, low, month), opening(metric, low, high, month));
  }

  head('Why: at the top, and over the bars');
  for (const { name, metric: key, current, before, drivers, dimension } of CHANGES) {
    const metric = STANDARD.of(key);
    const told = { metric, label: labelOf(key), current: { value: current }, drivers, dimension };
    put(
      name,
      openingSentence({ ...told, before: { value: before }, against: month }, format),
      fullStop(whySentence({ ...told, compared: { value: before } }, format)),
    );
  }
  const unknown = { metric: revenue, label: labelOf('revenue'), current: { value: 1 }, drivers: null };
  put('not known', fullStop(whySentence({ ...unknown, compared: { na: 'before-start' } }, format)));
  const partial = { ...unknown, current: { value: 9_100, partial: true as const }, before: null, dimension: 'channel' };
  put('partly known', openingSentence({ ...partial, against: month }, format));
  for (const [name, text] of Object.entries(words.reasons))
    put(name, fullStop(fill(words.labelled, { label: labelOf('revenue'), text })));

  head('Under a figure');
  for (const key of ['visits', 'revenue', 'bounceRate', 'position', 'engagedTime']) {
    const { unit, polarity } = STANDARD.of(key);
    const [now, before] = VALUES[unit];
    const change = changeOf({ value: now }, { value: before }, unit, polarity);
    const value = format.figure(before, unit);
    const beneath = [words.from, words.target, words.typical].map((t) => fill(t, { value }));
    put(key, format.figure(now, unit), format.change(change)!, ...beneath);
  }
  put('verdicts', words.better, words.worse, words.steady, words.fresh);
  const inPoints = (n: number): Change => ({ abs: n / 100, rel: 0.1, points: n, verdict: 'worse' });
  for (const n of [-0.2, 0.5, 1, 2, 5, 21]) put(`points ${n}`, format.change(inPoints(n))!);
  for (const n of [1, 1.5, 2, 5, 21]) put(`places ${n}`, format.places(n));
  put('partly known', fill(words.partial, { share: format.coveredShare(0.77) }), words.notComparable);
  for (const n of COUNTS) put(`covered of ${n}`, format.count(words.coveredDays, n, { covered: Math.max(0, n - 1) }));

  head('Odd days');
  const day = (d: string, measure: string, value: number, usual: number): Odd['days'][number] => ({
    day: d,
    kind: value === 0 ? 'zero' : 'jump',
    measure,
    side: 'current',
    value,
    usual,
  });
  const told = (key: string, days: Odd['days'], now: number) => ({
    metric: STANDARD.of(key),
    label: labelOf(key),
    odd: { days, without: { current: { value: now }, compared: { value: 100 }, days: days.map((d) => d.day) } },
  });
  const notes = (...of: ReturnType<typeof told>[]) => oddNotes(of, STANDARD, format).map((n) => n.text);
  const silent = day('2026-10-19', 'visits', 0, 770);
  put('one day', ...notes(told('visits', [silent], 96)));
  const unsold = day('2026-10-19', 'revenue', 0, 718.95);
  put('one day, three figures', ...notes(told('visits', [silent], 96), told('revenue', [unsold], 106)));
  put('no change', ...notes(told('visits', [silent], 100)));
  const holidays = ['2025-12-30', '2025-12-31', '2026-01-01'].map((d) => day(d, 'orders', 3, 31));
  put('days over the year’s end', ...notes(told('orders', holidays, 117)));
  const apart = [day('2026-10-08', 'orders', 6, 36), day('2026-10-19', 'orders', 0, 31)];
  put('two days, a sum and its ratio', ...notes(told('orders', apart, 102), told('averageOrder', apart, 98)));
  put('a note of somebody', dayNoteWords({ from: '2026-10-08', to: '2026-10-12', text: 'Lorem' }, format));
  put('left out', withoutDaysWords(['2026-10-08', '2026-10-19'], format));

  head('Notes');
  for (const n of COUNTS) {
    const days = format.count(words.days, n);
    const period = format.range(OCTOBER);
    put(`lengths ${n}`, fill(words.noteLengths, { days, compared: n + 1 }));
    put(`lengths of its own ${n}`, fill(words.noteLengthsOf, { period, days, compared: n + 1 }));
    put(`empty rows ${n}`, format.count(words.leftZeroes, n), format.count(words.leftFalling, n));
    put(`days to a target ${n}`, format.count(words.pace.days, n));
    put(`more ${n}`, format.count(words.mail.more, n), format.count(words.moreDays, n));
    put(
      `others ${n}`,
      format.count(words.peers.note, n, { metric: labelOf('followers'), dates: format.range(OCTOBER) }),
    );
  }
  for (const [name, range] of RANGES) {
    const dates = format.range(range);
    put(
      name,
      fill(words.noteBeforeStart, { ...format.period(range) }),
      fill(words.notePartial, { metric: labelOf('revenue'), dates, share: format.coveredShare(0.8) }),
      fill(words.noteSomeDays, { metric: labelOf('revenue'), dates }),
      feedLackWords({ feed: 'Lumen', since: range.from }, format),
      feedLackWords({ feed: 'Lumen', until: range.to }, format),
      fill(words.asOf, { date: format.date(range.to) }),
    );
  }
  for (const count of [1, 2, 5])
    put(`typical ${count}`, fill(words.noteTypical, { ...nameForms(labelOf('visits'), format), count, of: 6 }));
  put('rounding', words.noteRounding, words.noteNegative, fill(words.moreNotes, { count: 5 }));
  put(
    'converted',
    conversionWords([{ measures: ['revenue'], currency: 'USD', into: 'EUR', rate: 0.86, ...OCTOBER }], format),
  );
  put('gone', fill(words.gone, { what: format.list([labelOf('visits'), words.aSegment]) }));

  head('Titles');
  for (const key of DIMENSION_KEYS)
    put(key, ...[words.rankingTitle, words.shareTitle].map((t) => titleBy(t, labelOf('visits'), key, format)));
  put(
    'lines of values',
    ...[words.perDayBy, words.byDayBy].map((t) => titleBy(t, labelOf('visits'), 'channel', format)),
  );
  for (const { key } of STANDARD.metrics) {
    const forms = nameForms(labelOf(key), format);
    const titles = [words.driversTitle, words.perDay, words.byDay, words.rhythmTitle, words.pace.title];
    const ends = [words.standouts.best, words.standouts.worst, words.peers.title];
    put(key, ...[...titles, ...ends].map((t) => fill(t, forms)));
  }
  put('stages', fill(words.stages.title, { first: labelOf('visits'), last: labelOf('orders') }));
  put(
    'busiest',
    fill(words.busiest, { hour: `${format.weekday(3)} ${format.hour(14)}`, value: format.figure(123, 'count') }),
  );
  const [low, high] = [`${format.cell(120, 'count')} (${format.shortDate('2026-10-05')})`, format.cell(480, 'count')];
  put('chart', fill(words.chartText, { title: fill(words.perDay, { metric: labelOf('visits') }), low, high }));
  put('pace', fill(words.pace.over, { value: '12' }), fill(words.pace.short, { value: '12' }));
  for (const text of Object.entries(words.narrowed))
    put(
      text[0],
      fill(text[1], { dimension: words.dimensions.channel!, values: format.valueName('channel', 'paid search') }),
    );
  put('made', ...Object.values(words.made).map((t) => fill(t, { weight: labelOf('searchImpressions') })));
  put('page', fill(words.page, { n: 1, of: 21 }), fill(words.preparedBy, { agency: 'Lindau & Co', client: 'Tarn' }));

  head('Mails');
  for (const [name, range] of RANGES) {
    const period = format.range(range);
    put(name, fill(words.mail.attached, { title: words.starters.overview!, period }));
  }
  put('worded by nobody', words.mail.subject, words.mail.greeting.replaceAll('\n', '⏎'), words.mail.closing);
  put('a test, a note', fill(words.mail.test, { subject: 'x' }), fill(words.mail.noteFrom, { name: 'Anna Berg' }));
  const people = { name: 'Anna Berg', client: 'Tarn', agency: 'Lindau & Co', email: 'anna@tarn.example' };
  for (const [key, text] of Object.entries(words.mail.leave)) put(key, fill(text, people));
  put('unsubscribe', words.mail.noMore);

  head('Words alone');
  for (const { key } of STANDARD.metrics) put(key, labelOf(key));
  for (const key of ['values', 'blocks', 'starters', 'sheet', 'dimensions', 'measures'] as const)
    put(key, ...Object.values(words[key]));
  put(
    'heads',
    words.other,
    words.all,
    words.unnamed,
    words.change,
    words.notes,
    words.contents,
    words.byWeek,
    words.byMonth,
  );
  return lines.slice(1);
}
