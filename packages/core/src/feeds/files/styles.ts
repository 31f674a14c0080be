/** The ways in which files write days. `month` means a whole month, `weeks` a whole week from its Monday on. */
export const DATE_STYLES = [
  'ymd',
  'dmy',
  'mdy',
  'compact',
  'named',
  'instant',
  'week',
  'weeks',
  'month',
  'serial',
  'epoch',
] as const;
export type DateStyle = (typeof DATE_STYLES)[number];

export const DATE_STYLE_LABELS: Record<DateStyle, string> = {
  ymd: 'year, month, day: 2026-10-03',
  dmy: 'day, month, year: 3/10/2026',
  mdy: 'month, day, year: 10/3/2026',
  compact: 'eight digits: 20261003',
  named: 'month by name: 3 Oct 2026',
  instant: 'with a time: 2026-10-03T08:15:00Z',
  week: 'year, week, weekday: 2026-W40-6',
  weeks: 'whole weeks: 2026-W40',
  month: 'whole months: 2026-10',
  serial: 'days counted by a spreadsheet: 46298',
  epoch: 'seconds since 1970: 1790985600',
};

/** Which sign parts whole from fraction: 1,234.56 or 1.234,56. Spaces and apostrophes may group in both. */
export const NUMBER_STYLES = ['point', 'comma'] as const;
export type NumberStyle = (typeof NUMBER_STYLES)[number];

export const NUMBER_STYLE_LABELS: Record<NumberStyle, string> = { point: '1,234.56', comma: '1.234,56' };

export const SEPARATORS = [',', ';', '\t', '|'] as const;
export type Separator = (typeof SEPARATORS)[number];

export const SEPARATOR_LABELS: Record<Separator, string> = {
  ',': 'comma',
  ';': 'semicolon',
  '\t': 'tab',
  '|': 'upright bar',
};

export const ENCODINGS = [
  'utf-8',
  'utf-16le',
  'utf-16be',
  'windows-1252',
  'windows-1250',
  'windows-1251',
  'iso-8859-2',
  'koi8-r',
] as const;
export type Encoding = (typeof ENCODINGS)[number];

export const ENCODING_LABELS: Record<Encoding, string> = {
  'utf-8': 'UTF-8',
  'utf-16le': 'UTF-16 (little-endian)',
  'utf-16be': 'UTF-16 (big-endian)',
  'windows-1252': 'Western Europe (Windows-1252)',
  'windows-1250': 'Central Europe (Windows-1250)',
  'windows-1251': 'Cyrillic (Windows-1251)',
  'iso-8859-2': 'Central Europe (ISO 8859-2)',
  'koi8-r': 'Cyrillic (KOI8-R)',
};

/** What each row of a file speaks of, by how its days are written. */
export const grainOfDates = (style: DateStyle): 'day' | 'week' | 'month' =>
  style === 'month' ? 'month' : style === 'weeks' ? 'week' : 'day';
