import { describe, expect, it } from 'vitest';
import { pickSettings, readSettings, SETTING_LIST, SETTINGS, settingShape } from './index.ts';

const STORED = {
  domains: 'tarnbeck.example',
  site: 'tarnbeck.example',
  zone: 'Europe/London',
  currency: 'GBP',
  language: 'en-GB',
  startDate: '2025-03-03',
  weekStart: 7,
  fiscalStart: 4,
  calendar: '',
  paperSize: 'letter',
  orientation: '',
  reference: '',
};

describe('what is set for a client', () => {
  it('is read as it was stored', () => {
    expect(readSettings(JSON.parse(JSON.stringify(STORED)))).toEqual(STORED);
    expect(pickSettings({ ...STORED, name: 'Tarnbeck' } as never)).toEqual(STORED);
  });

  it('is complete for clients that are older than a setting, and holds nothing that is none any more', () => {
    const { weekStart: _, ...older } = STORED;
    expect(readSettings({ ...older, colourOfInk: 'blue' })).toEqual({ ...STORED, weekStart: 1 });
    expect(Object.keys(readSettings(null))).toEqual(Object.keys(SETTINGS));
    expect(readSettings({ ...STORED, startDate: '0001-01-01' }).startDate >= '1970-01-01').toBe(true);
  });

  it('begins with what its own route accepts, and offers nothing else', () => {
    for (const [key, { otherwise, field, schema, label }] of SETTING_LIST) {
      expect([key, schema.safeParse(otherwise).success]).toEqual([key, true]);
      expect(label).not.toBe('');
      if (field.kind !== 'choice') continue;
      // What is kept in the store is offered by the server.
      if (!field.from) expect(field.options.length).toBeGreaterThan(1);
      for (const { value } of field.options)
        expect([key, value, schema.safeParse(value).success]).toEqual([key, value, true]);
    }
  });

  it('says what is wrong in words', () => {
    const wrong = (key: keyof typeof settingShape, value: unknown) =>
      settingShape[key].safeParse(value).error?.issues[0]?.message;
    expect(wrong('zone', 'Mars/Olympus')).toBe('Unknown time zone.');
    expect(wrong('currency', 'XXQ')).toContain('three letters');
    expect(wrong('language', 'tlh')).toBe('This language isn’t available yet.');
    expect(wrong('site', 'not a place')).toContain('Enter a web address like place.example.');
  });
});
