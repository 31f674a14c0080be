import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { addDays, fromDayNumber } from '../../calendar/index.ts';
import {
  currenciesOf,
  currencyFault,
  currencyOfHeading,
  DATE_STYLES,
  type FileMapping,
  guessDates,
  guessNumbers,
  guessSeparator,
  inspectRows,
  keyOfName,
  looksLikeRates,
  mappingFault,
  otherCurrency,
  readDate,
  readDescription,
  readNumber,
  rowReader,
} from './index.ts';

const ZONE = 'Europe/London';

describe('dates of files', () => {
  const day = fc.integer({ min: 0, max: 20_000 }).map((n) => addDays('2000-01-01', n));
  const write = {
    ymd: (d: string) => d.replaceAll('-', '/'),
    dmy: (d: string) => `${+d.slice(8)}.${+d.slice(5, 7)}.${d.slice(0, 4)}`,
    mdy: (d: string) => `${d.slice(5, 7)}/${d.slice(8)}/${d.slice(0, 4)}`,
    compact: (d: string) => d.replaceAll('-', ''),
    named: (d: string) =>
      `${+d.slice(8)} ${'JanFebMarAprMayJunJulAugSepOctNovDec'.slice(3 * +d.slice(5, 7) - 3, 3 * +d.slice(5, 7))} ${d.slice(0, 4)}`,
    instant: (d: string) => `${d}T12:30:00Z`,
  };

  it('are read back from every style they are written in', () => {
    fc.assert(
      fc.property(day, fc.constantFrom(...(Object.keys(write) as (keyof typeof write)[])), (d, style) => {
        expect(readDate(write[style](d), style, ZONE)).toBe(d);
      }),
    );
  });

  it('are never a day that is not in the calendar, whatever stands there', () => {
    fc.assert(
      fc.property(fc.string({ maxLength: 14 }), fc.constantFrom(...DATE_STYLES), (text, style) => {
        expect(readDate(text, style, ZONE) ?? '2000-01-01').toMatch(/^\d{4}-\d\d-\d\d$/);
      }),
    );
    expect(readDate('29/02/2025', 'dmy', ZONE)).toBeNull();
    expect(readDate('31/04/2025', 'dmy', ZONE)).toBeNull();
  });

  it('are told in the client’s zone when they carry an offset', () => {
    expect(readDate('2026-10-01T23:30:00Z', 'instant', ZONE)).toBe('2026-10-02');
    expect(readDate('2026-10-01 23:30:00', 'instant', ZONE)).toBe('2026-10-01');
    expect(readDate(46298, 'serial', ZONE)).toBe('2026-10-03');
    expect(readDate('Oct 2026', 'month', ZONE)).toBe('2026-10-01');
  });

  it.each([
    ['named', 'Mon, 5 Oct 2026'],
    ['named', 'Monday, October 5, 2026'],
    ['named', 'Oct 5, 2026 08:15'],
    ['named', '5 October 2026, 8:15 am'],
    ['named', 'Montag, 5. Oktober 2026'],
    ['named', '5. Okt. 2026'],
    ['named', 'lundi 5 octobre 2026'],
    ['named', '5 de octubre de 2026'],
    ['named', 'lunedì 5 ottobre 2026'],
    ['named', 'maandag 5 oktober 2026'],
    ['named', '5 października 2026'],
    ['named', '5 октября 2026 г.'],
    ['named', '5 באוקטובר 2026'],
    ['named', '05-Oct-26'],
    ['dmy', '05/10/2026 08:15'],
    ['dmy', 'lun. 05/10/2026'],
    ['dmy', '5.10.2026, 08:15 Uhr'],
    ['mdy', '10/05/2026 8:15 PM'],
    ['ymd', '2026/10/05 08:15:30'],
    ['instant', '2026-10-05 08:15'],
    ['week', '2026-W41-1'],
    ['week', '2026W411'],
    ['epoch', '1791187200'],
    ['epoch', '1791187200000'],
  ] as const)('are read as %s: %s', (style, text) => expect(readDate(text, style, ZONE)).toBe('2026-10-05'));

  it('know the months of every language of reports, and no weekday for one', () => {
    expect(readDate('3 mars 2026', 'named', ZONE)).toBe('2026-03-03');
    expect(readDate('Mar 3, 2026', 'named', ZONE)).toBe('2026-03-03');
    expect(readDate('mar. 3 mars 2026', 'named', ZONE)).toBe('2026-03-03');
    expect(readDate('mar 03/02/2026', 'dmy', ZONE)).toBe('2026-02-03');
    expect(readDate('août 2026', 'month', ZONE)).toBe('2026-08-01');
    expect(readDate('октябрь 2026', 'month', ZONE)).toBe('2026-10-01');
    for (const text of ['Mon 2026', '5 Montag 2026', '32 Oct 2026', 'October 2026', '5 Oct', 'Total 5 2026'])
      expect(readDate(text, 'named', ZONE), text).toBeNull();
  });

  it('are no long texts, which cost no time for their length', () => {
    // A million characters: read as a day, they would take hours.
    for (const style of DATE_STYLES) {
      expect(readDate(`5${' '.repeat(1_000_000)}x`, style, ZONE)).toBeNull();
      expect(readDate('5 Oct 2026, '.repeat(100_000), style, ZONE)).toBeNull();
    }
  });

  it('of ISO weeks agree with the calendar, over the ends of years', () => {
    fc.assert(
      fc.property(day, (d) => {
        const n = (Date.parse(d) / 86_400_000 + 3) % 7;
        const thursday = new Date(Date.parse(d) + (3 - n) * 86_400_000);
        const year = thursday.getUTCFullYear();
        const week = Math.floor((thursday.getTime() - Date.UTC(year, 0, 1)) / (7 * 86_400_000)) + 1;
        expect(readDate(`${year}-W${String(week).padStart(2, '0')}-${n + 1}`, 'week', ZONE)).toBe(d);
      }),
    );
    expect(readDate('2025-W53-1', 'week', ZONE)).toBeNull();
    expect(readDate('2026-W53-7', 'week', ZONE)).toBe('2027-01-03');
  });

  it('leave a doubt only where both orders read every one, and say when they mix', () => {
    expect(guessDates(['03/04/2026', '05/04/2026'], ZONE)).toMatchObject({ doubtful: true, mixed: false });
    expect(guessDates(['03/04/2026', '25/04/2026'], ZONE)).toMatchObject({
      doubtful: false,
      fits: [{ style: 'dmy' }, {}],
    });
    expect(guessDates(['25/04/2026', '26/04/2026', '04/27/2026'], ZONE)).toMatchObject({
      mixed: true,
      fits: [{ style: 'dmy' }, {}],
    });
    expect(guessDates(['Visits', 'Leads'], ZONE).fits).toEqual([]);
  });
});

describe('numbers of files', () => {
  it('come back as they were, grouped in either way', () => {
    const amount = fc.integer({ min: -1e9, max: 1e9 }).map((n) => n / 100);
    fc.assert(
      fc.property(amount, (n) => {
        const point = new Intl.NumberFormat('en-GB', { maximumFractionDigits: 2 }).format(n);
        const comma = new Intl.NumberFormat('de-DE', { maximumFractionDigits: 2 }).format(n);
        expect(readNumber(point, 'point')).toBe(n);
        expect(readNumber(comma, 'comma')).toBe(n);
      }),
    );
  });

  it('may carry money, spaces, brackets, percents and any minus', () => {
    expect(readNumber('£1,234.50', 'point')).toBe(1234.5);
    expect(readNumber('1\u202f234,50 €', 'comma')).toBe(1234.5);
    expect(readNumber("1'234.50 CHF", 'point')).toBe(1234.5);
    expect(readNumber('(12.00)', 'point')).toBe(-12);
    expect(readNumber('\u22127', 'comma')).toBe(-7);
    expect(readNumber('4.5%', 'point')).toBeCloseTo(0.045);
    for (const bad of ['', 'n/a', '1.2.3', '1,23,4', '12a', '--1', '1e999'])
      expect(readNumber(bad, 'point')).toBeNull();
  });

  it('may be written short, as a length of time, or in a unit of a power of ten', () => {
    expect(readNumber('4.7K', 'point')).toBe(4700);
    expect(readNumber('1.1M', 'point')).toBe(1_100_000);
    expect(readNumber('€2.3bn', 'point')).toBe(2.3e9);
    expect(readNumber('3,4 Mio.', 'comma')).toBe(3_400_000);
    expect(readNumber('12 Tsd.', 'comma')).toBe(12_000);
    expect(readNumber('-2k', 'point')).toBe(-2000);
    expect(readNumber('1:28', 'point')).toBe(88);
    expect(readNumber('00:01:28', 'comma')).toBe(88);
    expect(readNumber('26:00:00.5', 'point')).toBe(93_600.5);
    for (const bad of ['5m', '12a', '1:75', '1:2', '0:90:00', 'K', '1.2.3K', '1:28%'])
      expect(readNumber(bad, 'point'), bad).toBeNull();
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 9_999_999 }), (n) => {
        expect(readNumber(`${n / 100}K`, 'point')).toBe(n * 10);
        const [h, m, s] = [Math.floor(n / 3600) % 1000, Math.floor(n / 60) % 60, n % 60];
        const two = (x: number) => String(x).padStart(2, '0');
        expect(readNumber(`${h}:${two(m)}:${two(s)}`, 'point')).toBe(h * 3600 + m * 60 + s);
      }),
    );
  });

  it('say what they are, and are read in the unit of the figure', () => {
    const rows = [
      ['day', 'Time', 'Length', 'cost_micros', 'Takings', 'Visits'],
      ['2026-10-01', '08:15', '1:28', '1250000', '£4.7K', '1.2K'],
      ['2026-10-02', '09:30', '0:45', '990000', '£900', '950'],
    ];
    const found = inspectRows(rows, ZONE, null, null, 'GBP');
    expect(found.columns.map((c) => [c.name, c.use.as, c.unit ?? null])).toEqual([
      ['day', 'date', null],
      ['Time', 'dimension', null],
      ['Length', 'measure', 'duration'],
      ['cost_micros', 'measure', null],
      ['Takings', 'measure', 'money'],
      ['Visits', 'measure', null],
    ]);
    const read = rowReader(rows[0]!, found.mapping, {
      today: '2026-11-02',
      zone: ZONE,
      counts: () => false,
      currency: 'GBP',
    });
    expect(read.read(rows[1]!)).toBeNull();
    expect([...read.values]).toEqual([88, 1.25, 4700, 1200]);
  });

  it('tell their style by what only one of them can be', () => {
    expect(guessNumbers(['1.234', '5.678'])).toMatchObject({ unlike: 2, point: 0, comma: 0 });
    expect(guessNumbers(['1.234', '0,5'])).toMatchObject({ style: 'comma' });
    expect(guessNumbers(['blue', 'red'])).toBeNull();
  });
});

describe('a table', () => {
  it('is parted by the sign that its lines have alike, not by one in quotes', () => {
    expect(guessSeparator('a;b;c\n1,5;"x,y,z,w,v";2\n2,5;z;3')).toBe(';');
    expect(guessSeparator('a\tb\n1,2\t3')).toBe('\t');
    expect(guessSeparator('day\n2026-01-01')).toBe(',');
  });

  it('is looked through: heading below a title, date, words and figures', () => {
    const seen = inspectRows(
      [
        ['Sales by store', '', '', ''],
        ['Datum', 'Filiale', 'Umsatz', 'Visits'],
        ['03.10.2026', 'Hafen', '1.234,50', '17'],
        ['14.10.2026', 'Markt', '99,00', '8'],
      ],
      ZONE,
      null,
      null,
      'GBP',
    );
    expect(seen.headerAt).toBe(1);
    expect(seen.mapping).toEqual({
      dates: 'dmy',
      numbers: 'comma',
      gaps: 'zero',
      columns: {
        Datum: { as: 'date' },
        Filiale: { as: 'dimension', key: 'filiale' },
        Umsatz: { as: 'measure', key: 'umsatz' },
        Visits: { as: 'measure', key: 'visits' },
      },
    });
    expect(seen.doubts).toEqual([]);
    expect(mappingFault(seen.mapping)).toBeNull();
  });

  it('asks what it cannot know, and not again once it was told', () => {
    const rows = [
      ['date', 'sales'],
      ['03/04/2026', '1.234'],
      ['05/04/2026', '2.345'],
    ];
    const seen = inspectRows(rows, ZONE, null, null, 'GBP');
    expect(seen.doubts).toEqual(['dates', 'numbers']);
    const told: FileMapping = { ...seen.mapping, dates: 'dmy', numbers: 'comma', gaps: 'missing' };
    expect(inspectRows(rows, ZONE, null, told, 'GBP')).toMatchObject({ doubts: [], mapping: told });
  });

  it('names what has no name, and what has the same one', () => {
    const seen = inspectRows(
      [
        ['day', 'Clicks', '', 'Clicks'],
        ['2026-10-01', 1, 2, 3],
      ],
      ZONE,
      null,
      null,
      'GBP',
    );
    expect(seen.columns.map((c) => c.name)).toEqual(['day', 'Clicks', 'Column 3', 'Clicks (2)']);
    expect(seen.notices).toHaveLength(2);
    expect(keyOfName('Cost per click (EUR)')).toBe('costPerClickEUR');
    expect(keyOfName('№ 7')).toMatch(/^[a-zA-Z]/);
  });

  it('believes a description that comes with it', () => {
    const rows = [
      ['d', 'n', 'id'],
      ['03/04/2026', '1.234', '5'],
    ];
    const web = readDescription({
      '@context': 'http://www.w3.org/ns/csvw',
      tableSchema: {
        columns: [
          { name: 'd', titles: 'd', datatype: { base: 'date', format: 'MM/dd/yyyy' } },
          { titles: ['n'], datatype: { base: 'decimal', format: { decimalChar: ',', groupChar: '.' } } },
          { titles: { en: 'id' }, datatype: 'string' },
        ],
      },
    });
    expect(inspectRows(rows, ZONE, web, null, 'GBP')).toMatchObject({
      doubts: [],
      mapping: { dates: 'mdy', numbers: 'comma' },
    });
    const schema = readDescription({
      resources: [
        {
          dialect: { delimiter: ';' },
          schema: {
            fields: [
              { name: 'd', type: 'date', format: '%d/%m/%Y' },
              { name: 'n', type: 'number', decimalChar: ',' },
            ],
          },
        },
      ],
    });
    expect(schema).toMatchObject({ separator: ';', columns: { d: { dates: 'dmy' }, n: { numbers: 'comma' } } });
    expect(readDescription({ hello: 1 })).toBeNull();
  });
});

describe('reading rows', () => {
  const mapping: FileMapping = {
    dates: 'ymd',
    numbers: 'point',
    gaps: 'zero',
    columns: {
      day: { as: 'date' },
      shop: { as: 'dimension', key: 'shop' },
      sold: { as: 'measure', key: 'sold' },
      note: { as: 'skip' },
    },
  };
  const names = ['day', 'shop', 'sold', 'note'];
  const reader = rowReader(names, mapping, { today: '2026-11-02', zone: ZONE, counts: () => true, currency: 'GBP' });

  it('gives day, labels and values of a good row', () => {
    expect(reader.read(['2026-10-03', ' Quay ', '1,204', 'x'])).toBeNull();
    expect([fromDayNumber(reader.day), reader.labels, [...reader.values]]).toEqual(['2026-10-03', ['Quay'], [1204]]);
  });

  it.each([
    [['2026-10-03', 'Quay', '5'], 'has 3 cells; the heading has 4'],
    [['', 'Quay', '5', ''], 'has no date'],
    [['03/10/2026', 'Quay', '5', ''], 'is not a date like “'],
    [['2026-11-03', 'Quay', '5', ''], 'is in the future'],
    [['2026-10-03', 'Quay', 'five', ''], '“five” in “sold” is not a number'],
    [['2026-10-03', 'Quay', '-5', ''], 'below zero'],
    [['2026-10-03', 'Quay', ' ', ''], 'has no data'],
  ])('says why %j is set aside', (cells, words) => {
    expect(reader.read(cells)).toContain(words);
  });

  it('tells the day of a row that it sets aside, where that can be read', () => {
    const dayOf = (cells: (string | number)[]) => {
      expect(reader.read(cells)).not.toBeNull();
      return reader.dayRead === null ? null : fromDayNumber(reader.dayRead);
    };
    expect(dayOf(['2026-10-03', 'Quay', 'five', ''])).toBe('2026-10-03');
    expect(dayOf(['2026-10-03', 'Quay', '5'])).toBe('2026-10-03');
    expect(dayOf(['Total', 'Quay', '5', ''])).toBeNull();
    expect(dayOf(['', 'Quay', '5', ''])).toBeNull();
  });

  it('sets money of another currency aside, whether by its sign or its code', () => {
    const inDollars = rowReader(names, mapping, {
      today: '2026-11-02',
      zone: ZONE,
      counts: () => false,
      currency: 'USD',
    });
    const read = (cell: string) => inDollars.read(['2026-10-03', 'Quay', cell, '']);
    for (const cell of ['€ 1,234.50', '1,234.50 €', 'EUR 12', '12 EUR', '£5', '-£5', '12.00 CHF']) {
      expect(read(cell), cell).toMatch(/is in .+, not in USD$/);
    }
    for (const cell of ['$1,234.50', 'USD 12', '12 USD', '-$5', '($5.00)', '12.5']) expect(read(cell), cell).toBeNull();
    expect(otherCurrency('€5', 'EUR')).toBeNull();
    expect(otherCurrency('A$5', 'AUD')).toBeNull();
    expect(otherCurrency(12, 'USD')).toBeNull();
  });

  it('never takes a rate that is not there for 0, unless it counts for nothing', () => {
    const rates: FileMapping = {
      ...mapping,
      columns: { day: { as: 'date' }, rate: { as: 'measure', key: 'rate' }, sent: { as: 'measure', key: 'sent' } },
    };
    const weighted = rowReader(['day', 'rate', 'sent'], rates, {
      today: '2026-11-02',
      zone: ZONE,
      counts: () => false,
      currency: 'GBP',
      weightOf: (m) => (m === 'rate' ? 'sent' : null),
    });
    expect(weighted.read(['2026-10-03', '', '40'])).toContain('has no rate in “rate”');
    expect(weighted.read(['2026-10-03', '', '0'])).toBeNull();
    expect(weighted.read(['2026-10-03', '4%', '40'])).toBeNull();
  });

  it('never takes a mapping that says nothing or the same twice', () => {
    expect(mappingFault({ ...mapping, columns: { day: { as: 'date' } } })?.message).toContain('data column');
    expect(mappingFault({ ...mapping, columns: { a: { as: 'measure', key: 'x' } } })?.message).toContain('date');
    const twice = { ...mapping.columns, note: { as: 'measure', key: 'sold' } as const };
    expect(mappingFault({ ...mapping, columns: twice })).toMatchObject({ column: 'note' });
  });
});

describe('money', () => {
  it.each([
    ['Cost (USD)', 'USD'],
    ['Amount [in EUR]', 'EUR'],
    ['Spend (US$)', '$'],
    ['Umsatz €', '€'],
    ['spend_eur', 'EUR'],
    ['costUsd', 'USD'],
    ['Revenue in CHF', 'CHF'],
    ['GBP total', 'GBP'],
    ['Cost (XCD)', 'XCD'],
  ])('is in the currency that its heading names: %s', (name, currency) =>
    expect(currencyOfHeading(name)).toBe(currency),
  );

  it.each(['Cost', 'Top pages', 'TOP 10', 'All visits', 'Try outs', 'Pens sold (all)', 'USD', 'Visits (new)'])(
    'has no currency where a heading names none: %s',
    (name) => expect(currencyOfHeading(name)).toBeNull(),
  );

  it('has its currency in a column, where that holds nothing else', () => {
    expect(currenciesOf('Currency', ['GBP', 'EUR', 'gbp'])).toEqual(['GBP', 'EUR']);
    expect(currenciesOf('Währung', ['€', '£'])).toEqual(['€', '£']);
    expect(currenciesOf('Code', ['USD', 'EUR'])).toEqual(['USD', 'EUR']);
    expect(currenciesOf('Size', ['ALL', 'TOP'])).toBeNull();
    expect(currenciesOf('Country', ['GBR', 'FRA'])).toBeNull();
    expect(currenciesOf('Currency', ['GBP', 'the euro', 'pounds'])).toBeNull();
    expect(currenciesOf('Currency', [])).toBeNull();
  });

  const rows = [
    ['day', 'Currency', 'Takings', 'Fees (USD)'],
    ['2026-10-01', 'GBP', '10', '1'],
    ['2026-10-02', 'EUR', '20', '2'],
  ];
  const isMoney = (key: string) => key !== 'count';

  it('of two currencies is asked about, and the answer is kept for the next file', () => {
    const found = inspectRows(rows, ZONE, null, null, 'GBP');
    expect(found.columns.map((c) => c.use.as)).toEqual(['date', 'currency', 'measure', 'skip']);
    expect(found.doubts).toEqual(['currency']);
    expect(found.notices.join(' ')).toContain('“Fees (USD)” is in USD, not in GBP, so it is skipped');
    const told: FileMapping = { ...found.mapping, otherCurrency: 'left-out' };
    expect(inspectRows(rows, ZONE, null, told, 'GBP')).toMatchObject({ doubts: [], mapping: told });
    expect(inspectRows(rows.slice(0, 2), ZONE, null, null, 'GBP').doubts).toEqual([]);
    expect(inspectRows([rows[0]!, rows[2]!], ZONE, null, null, 'EUR').doubts).toEqual([]);
  });

  it('of two currencies is never added: what would add it is a fault, at its column', () => {
    const { columns, mapping } = inspectRows(rows, ZONE, null, null, 'GBP');
    const fault = (change: Partial<FileMapping>, uses: FileMapping['columns'] = {}) =>
      currencyFault(columns, { ...mapping, ...change, columns: { ...mapping.columns, ...uses } }, 'GBP', isMoney);
    expect(fault({})).toMatchObject({ column: 'Currency', message: expect.stringContaining('rows in EUR') });
    expect(fault({ otherCurrency: 'unknown' })).toBeNull();
    expect(fault({}, { Currency: { as: 'skip' } })?.message).toContain('Use it as the currency');
    expect(fault({}, { Currency: { as: 'skip' }, Takings: { as: 'measure', key: 'count' } })).toBeNull();
    const fees = { 'Fees (USD)': { as: 'measure', key: 'fees' } } as const;
    expect(fault({ otherCurrency: 'left-out' }, fees)).toMatchObject({ column: 'Fees (USD)' });
    expect(fault({ otherCurrency: 'left-out', ownMoney: ['Fees (USD)'] }, fees)).toBeNull();
    expect(fault({ otherCurrency: 'left-out' }, { 'Fees (USD)': { as: 'measure', key: 'count' } })).toBeNull();
  });

  it('in another currency is set aside, or left out where a person says so; a row without one is not guessed at', () => {
    const { mapping } = inspectRows(rows, ZONE, null, null, 'GBP');
    const names = rows[0]!;
    const rules = { today: '2026-11-02', zone: ZONE, counts: () => false, currency: 'GBP' };
    const read = (otherCurrency: 'unknown' | 'left-out', cells: string[]) => {
      const reader = rowReader(names, { ...mapping, otherCurrency }, rules);
      return [reader.read(cells), reader.leftOut];
    };
    expect(read('unknown', rows[1]!)).toEqual([null, false]);
    expect(read('unknown', rows[2]!)).toEqual(['is in “EUR”, not in GBP', false]);
    expect(read('left-out', rows[2]!)).toEqual(['is in “EUR”, not in GBP', true]);
    expect(read('left-out', ['2026-10-03', '£', '5', ''])).toEqual([null, false]);
    expect(read('left-out', ['2026-10-03', '', '5', ''])).toEqual(['has no currency in “Currency”', false]);
  });
});

describe('columns of rates', () => {
  it.each([
    'Open rate',
    'CTR',
    'Avg. position',
    'Bounce Rate',
    'bounceRate',
    'avg_order',
    'Cost per click',
    'Taux d’ouverture',
    'Durchschnittspreis',
    '% new',
    'Ср. средняя',
  ])('are told by their heading: %s', (name) => expect(looksLikeRates(name, ['1', '2'])).toBe(true));

  it.each([
    'Visits',
    'Operations',
    'Strategy calls',
    'Separate orders',
    'Corporate',
    'Ratings received',
    'Personal visits',
    'Mediaeval',
  ])('are not seen where there are none: %s', (name) => expect(looksLikeRates(name, ['1', '2'])).toBe(false));

  it('are told by their cells, and left out until somebody says what weighs them', () => {
    expect(looksLikeRates('Opened', ['4%', '5.2 %'])).toBe(true);
    const rows = [
      ['day', 'Open rate', 'Emails sent'],
      ['2026-10-01', '4%', '120'],
      ['2026-10-02', '5%', '80'],
    ];
    const found = inspectRows(rows, ZONE, null, null, 'GBP');
    expect(found.columns.map((c) => [c.name, c.use.as, c.rates ?? false])).toEqual([
      ['day', 'date', false],
      ['Open rate', 'skip', true],
      ['Emails sent', 'measure', false],
    ]);
    expect(found.notices.join(' ')).toContain('“Open rate” looks like rates or averages');
  });
});

describe('numbers whose style does not show', () => {
  it('are read as is usual where they come from, until another one tells', () => {
    expect(guessNumbers(['12.400'])).toMatchObject({ style: 'point', unlike: 1 });
    expect(guessNumbers(['12.400'], 'comma')).toMatchObject({ style: 'comma', unlike: 1 });
    expect(readNumber('12.400', 'comma')).toBe(12_400);
    expect(guessNumbers(['12.400', '1.5'], 'comma')?.style).toBe('point');
    expect(guessNumbers(['12.400', '1,5'], 'point')?.style).toBe('comma');
  });
});
