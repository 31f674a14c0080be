import Bowser from 'bowser';

/** What a browser says of itself, as people call it: `Firefox on Windows`. */
export function deviceName(agent: string): string {
  const { browser, os } = agent === '' ? { browser: {}, os: {} } : Bowser.parse(agent);
  const name = (browser as { name?: string }).name ?? 'an unknown browser';
  const system = (os as { name?: string }).name;
  return system ? `${name} on ${system}` : name;
}
