/** Locales that a client may be given, as offered. */
export const LOCALES: readonly { value: string; label: string }[] = [
  { value: 'en-GB', label: 'English (United Kingdom)' },
  { value: 'en-IE', label: 'English (Ireland)' },
  { value: 'en-CA', label: 'English (Canada)' },
  { value: 'en-US', label: 'English (United States)' },
  { value: 'de-DE', label: 'Deutsch (Deutschland)' },
  { value: 'de-AT', label: 'Deutsch (Österreich)' },
  { value: 'fr-FR', label: 'Français (France)' },
  { value: 'fr-CA', label: 'Français (Canada)' },
  { value: 'es-ES', label: 'Español (España)' },
  { value: 'it-IT', label: 'Italiano (Italia)' },
  { value: 'pl-PL', label: 'Polski (Polska)' },
  { value: 'ru-RU', label: 'Русский' },
  { value: 'nl-NL', label: 'Nederlands (Nederland)' },
];
