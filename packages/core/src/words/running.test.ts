import { describe, expect, it } from 'vitest';
import { checkMergeFields } from '../report/index.ts';
import { createFormatter, LOCALES, wordsFor } from './index.ts';

const week = { from: '2026-11-18', to: '2026-11-24' };
const over = { from: '2026-10-29', to: '2026-11-08' };
const years = { from: '2025-12-29', to: '2026-01-04' };
const say = (locale: string, range = week) => createFormatter(locale, 'EUR').running(range);

describe('dates within running text', () => {
  it.each([
    ['en-GB', '18 – 24 November 2026'],
    ['de-DE', 'vom 18. bis 24. November 2026'],
    ['fr-FR', 'du 18 au 24 novembre 2026'],
    ['es-ES', 'del 18 al 24 de noviembre de 2026'],
    ['it-IT', 'dal 18 al 24 novembre 2026'],
    ['nl-NL', 'van 18 tot en met 24 november 2026'],
    ['pl-PL', 'od 18 do 24 listopada 2026'],
    ['ru-RU', 'с 18 по 24 ноября 2026 г.'],
  ])('read as %s writes them', (locale, text) => {
    expect(say(locale).replace(/[\u2009\u202f\u00a0]/g, ' ')).toBe(text);
  });

  it('name month and year of the first day only where they differ', () => {
    expect(say('fr-FR', over)).toBe('du 29 octobre au 8 novembre 2026');
    expect(say('it-IT', over)).toBe('dal 29 ottobre all’8 novembre 2026');
    expect(say('de-DE', years)).toBe('vom 29. Dezember 2025 bis 4. Januar 2026');
    expect(say('fr-FR', { from: '2026-11-01', to: '2026-11-07' })).toBe('du 1er au 7 novembre 2026');
    expect(say('ru-RU', { from: '2026-11-02', to: '2026-11-08' })).toContain('со 2 по 8');
    expect(say('de-DE', { from: '2026-10-01', to: '2026-10-31' })).toBe('Oktober 2026');
    expect(say('fr-FR', { from: week.from, to: week.from })).toBe('18 novembre 2026');
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
