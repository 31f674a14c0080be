import { describe, expect, it } from 'vitest';
import { checkMergeFields } from '../report/index.ts';
import { createFormatter, LOCALES, wordsFor } from './index.ts';

const day = { from: '2026-11-18', to: '2026-11-18' };
const week = { from: '2026-11-24', to: '2026-11-30' };
const over = { from: '2026-10-29', to: '2026-11-08' };
const years = { from: '2025-12-29', to: '2026-01-04' };
const august = { from: '2026-08-01', to: '2026-08-31' };
const october = { from: '2026-10-01', to: '2026-10-31' };
const quarter = { from: '2026-04-01', to: '2026-06-30' };
const year = { from: '2026-01-01', to: '2026-12-31' };
const plain = (text: string) => text.replace(/[\u2009\u202f\u00a0]/g, ' ');
const title = (locale: string, range = week) => plain(createFormatter(locale, 'EUR').period(range).title);
const against = (locale: string, range = week) => plain(createFormatter(locale, 'EUR').period(range).against);
const during = (locale: string, range = week) => plain(createFormatter(locale, 'EUR').period(range).during);

describe('periods as headings name them', () => {
  it.each([
    ['en-GB', '24–30 November 2026'],
    ['en-US', 'November 24–30, 2026'],
    ['de-DE', '24.–30. November 2026'],
    ['fr-FR', 'du 24 au 30 novembre 2026'],
    ['es-ES', 'del 24 al 30 de noviembre de 2026'],
    ['it-IT', '24–30 novembre 2026'],
    ['nl-NL', '24–30 november 2026'],
    ['pl-PL', '24–30 listopada 2026'],
    ['ru-RU', '24–30 ноября 2026 г.'],
  ])('read as %s writes them', (locale, text) => {
    expect(title(locale)).toBe(text);
  });

  it('name month and year of the first day only where they differ', () => {
    expect(title('en-CA', over)).toBe('October 29 – November 8, 2026');
    expect(title('fr-FR', { from: '2026-11-01', to: '2026-11-07' })).toBe('du 1er au 7 novembre 2026');
    expect(title('it-IT', { from: '2026-11-01', to: '2026-11-07' })).toBe('1–7 novembre 2026');
    expect(title('he-IL', over)).toBe('29 באוקטובר – 8 בנובמבר 2026');
    expect(title('de-DE', years)).toBe('29. Dezember 2025 – 4. Januar 2026');
  });

  it('call whole months, quarters and years by their names', () => {
    expect(title('en-GB', october)).toBe('October 2026');
    expect(title('en-GB', quarter)).toBe('Q2 2026');
    expect(title('pl-PL', quarter)).toBe('II kwartał 2026');
    expect(title('ru-RU', year)).toBe('2026 год');
  });
});

describe('periods after a change bring their own preposition and case', () => {
  it.each([
    ['en-GB', [day, 'compared with 18 November 2026'], [october, 'on October 2026']],
    ['en-US', [week, 'compared with November 24–30, 2026'], [october, 'from October 2026']],
    ['de-DE', [day, 'gegenüber dem 18. November 2026'], [week, 'gegenüber dem Zeitraum 24.–30. November 2026']],
    ['de-DE', [october, 'gegenüber Oktober 2026'], [quarter, 'gegenüber dem 2. Quartal 2026']],
    ['fr-FR', [day, 'par rapport au 18 novembre 2026'], [october, 'par rapport à octobre 2026']],
    ['fr-FR', [week, 'par rapport à la période du 24 au 30 novembre 2026'], [year, 'par rapport à 2026']],
    ['es-ES', [week, 'respecto al período del 24 al 30 de noviembre de 2026'], [october, 'respecto a octubre de 2026']],
    [
      'it-IT',
      [{ from: '2026-11-08', to: '2026-11-08' }, 'rispetto all’8 novembre 2026'],
      [august, 'rispetto ad agosto 2026'],
    ],
    ['nl-NL', [quarter, 'ten opzichte van het tweede kwartaal van 2026'], [october, 'ten opzichte van oktober 2026']],
    ['pl-PL', [october, 'w porównaniu z październikiem 2026'], [quarter, 'w porównaniu z II kwartałem 2026']],
    ['ru-RU', [october, 'по сравнению с октябрём 2026 г.'], [quarter, 'по сравнению со 2-м кварталом 2026 г.']],
    ['he-IL', [quarter, 'לעומת הרבעון השני של 2026'], [year, 'לעומת שנת 2026']],
  ] as [string, ...[{ from: string; to: string }, string][]][])('%s', (locale, ...said) => {
    for (const [range, text] of said) expect(against(locale, range)).toBe(text);
  });

  it('and say when something happened', () => {
    expect(during('en-GB', october)).toBe('in October 2026');
    expect(during('de-DE', day)).toBe('am 18. November 2026');
    expect(during('fr-FR', { from: '2026-11-01', to: '2026-11-01' })).toBe('le 1er novembre 2026');
    expect(during('pl-PL', october)).toBe('w październiku 2026');
    expect(during('ru-RU', august)).toBe('в августе 2026 г.');
    expect(during('it-IT', august)).toBe('ad agosto 2026');
  });
});

describe('what a mail says when nobody worded it', () => {
  it('is there in every language, with fields that exist', () => {
    const said = LOCALES.map(({ value }) => wordsFor(value).mail);
    expect(new Set(said.map((m) => m.greeting + m.closing)).size).toBe(
      new Set(LOCALES.map((l) => l.value.slice(0, 2))).size,
    );
    for (const mail of said) {
      expect(checkMergeFields(mail.subject, [])).toBeNull();
      expect(checkMergeFields(mail.greeting, [])).toBeNull();
      expect(mail.test).toContain('{subject}');
    }
  });
});
