import { describe, expect, it } from 'vitest';
import { speaksAnother, withLanguage } from './mailLanguage.ts';

const client = {
  language: 'en-GB',
  mailTexts: [
    { language: 'en', subject: 'Your report', message: 'Hello,' },
    { language: 'de', subject: 'Ihr Bericht', message: 'Guten Tag,' },
  ],
};
const standard = { subject: 'Your report', message: 'Hello,', language: null };
const own = { subject: 'News from us', message: 'Dear all,', language: null };

describe('the language of a schedule', () => {
  it('sets its mail, too, as long as nobody worded it', () => {
    expect(withLanguage(client, standard, 'de-DE')).toEqual({
      language: 'de-DE',
      subject: 'Ihr Bericht',
      message: 'Guten Tag,',
    });
    const german = { ...standard, ...withLanguage(client, standard, 'de-DE') };
    expect(withLanguage(client, german, null)).toEqual({ language: null, subject: 'Your report', message: 'Hello,' });
  });

  it('leaves a text of one’s own as it is, which is then asked about until it is changed', () => {
    expect(withLanguage(client, own, 'de-DE')).toEqual({ language: 'de-DE' });
    expect(speaksAnother(client, { ...own, language: 'de-AT' }, own)).toBe(true);
    expect(speaksAnother(client, { ...own, language: 'en-US' }, own)).toBe(false);
    expect(speaksAnother(client, { ...own, language: 'de-DE', message: 'Liebe alle,' }, own)).toBe(false);
    expect(speaksAnother(client, { ...standard, language: 'de-DE' }, standard)).toBe(false);
  });
});
