import { existsSync } from 'node:fs';

/** The built folder lies this far above: of what is built itself, of a room of it, of the sources and a room of theirs. */
const PLACES = ['.', '..', '../..', '../../../../build', '../../../../../build'];

/**
 * Where the built code of a thread lies, whether it is asked for from what is built or from the sources.
 * @param from `import.meta.url` of who asks
 * @throws Error where it is not built
 */
export function builtFile(name: string, from: string): URL {
  const found = PLACES.map((place) => new URL(`${place}/${name}`, from)).find((url) => existsSync(url));
  if (!found) throw new Error(`${name} is not built: run "npm run build" first`);
  return found;
}
