import { BaseSequencer } from 'vitest/node';

/**
 * Files that take long, the longest first: begun last, they would be waited for alone. The first of the browser's makes the
 * demo that the others copy; they would only wait for it beside it.
 */
const LONG = [
  /^e2e\/src\/composing\./,
  /\/crash\/sample\./,
  /\/render\/gallery\./,
  /^e2e\/src\/(keyboard|people|firstEdition)\./,
  /^e2e\//,
  /\/(feeds|typefaces|outbox|phrases)\.test\./,
  /\/crash\//,
  /\/(following|isolation|setting)\.test\./,
  /\/server\/src\/scheduler\//,
];

const rank = (file) => {
  const found = LONG.findIndex((pattern) => pattern.test(file));
  return found < 0 ? LONG.length : found;
};

export class LongestFirst extends BaseSequencer {
  async sort(files) {
    const root = `${this.ctx.config.root}/`;
    const usual = await super.sort(files);
    return usual.toSorted((a, b) => rank(a.moduleId.replace(root, '')) - rank(b.moduleId.replace(root, '')));
  }
}
