/** A name as a key: `Cost per click (EUR)` becomes `costPerClickEur`. */
export function keyOfName(name: string): string {
  const words = name
    .normalize('NFKD')
    .replace(/\p{M}/gu, '')
    .split(/[^A-Za-z0-9]+/)
    .filter((w) => w !== '');
  const camel = words
    .map((w, i) => (i === 0 ? w[0]!.toLowerCase() + w.slice(1) : w[0]!.toUpperCase() + w.slice(1)))
    .join('')
    .replace(/^\d+/, '');
  const key = /^[A-Z]+$/.test(camel.slice(1)) ? camel.toLowerCase() : camel;
  return key === '' ? 'column' : key.slice(0, 40);
}
