import type { Setting } from './setting.ts';
import { calendar } from './settings/calendar.ts';
import { currency } from './settings/currency.ts';
import { domains } from './settings/domains.ts';
import { fiscalStart } from './settings/fiscalStart.ts';
import { language } from './settings/language.ts';
import { orientation } from './settings/orientation.ts';
import { paperSize } from './settings/paperSize.ts';
import { reference } from './settings/reference.ts';
import { site } from './settings/site.ts';
import { startDate } from './settings/startDate.ts';
import { weekStart } from './settings/weekStart.ts';
import { zone } from './settings/zone.ts';

/** Everything that is set for a client, in the order in which forms ask for it. */
export const SETTINGS = {
  site,
  domains,
  zone,
  currency,
  language,
  startDate,
  weekStart,
  fiscalStart,
  calendar,
  paperSize,
  orientation,
  reference,
};

type Settings = typeof SETTINGS;
export type ClientSettings = { [K in keyof Settings]: Settings[K] extends Setting<infer T> ? T : never };

/** The same, for whoever goes through all of them. */
export const SETTING_LIST = Object.entries(SETTINGS) as unknown as readonly [
  keyof Settings,
  Setting<string | number>,
][];

type Shape = { [K in keyof Settings]: Settings[K]['schema'] };
/** What routes accept of each. */
export const settingShape = Object.fromEntries(SETTING_LIST.map(([key, s]) => [key, s.schema])) as Shape;

/**
 * Settings as they are stored. What is older than a setting has what the setting says of such clients; what is no
 * setting any more is left out.
 */
export function readSettings(stored: unknown): ClientSettings {
  const kept = (typeof stored === 'object' && stored !== null ? stored : {}) as Record<string, unknown>;
  return Object.fromEntries(
    SETTING_LIST.map(([key, { otherwise, mend }]) => {
      const value = kept[key];
      if (typeof value !== typeof otherwise) return [key, otherwise];
      return [key, mend ? mend(value as never) : value];
    }),
  ) as ClientSettings;
}

/** Of an object, its settings alone. */
export const pickSettings = (from: ClientSettings): ClientSettings =>
  Object.fromEntries(SETTING_LIST.map(([key]) => [key, from[key]])) as ClientSettings;
