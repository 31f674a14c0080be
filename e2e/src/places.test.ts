import { afterAll, beforeAll } from 'vitest';
import { feedsSuite } from './feedsSuite.ts';
import { figuresSuite } from './figuresSuite.ts';
import { keyboardSuite } from './keyboardSuite.ts';
import { openStage, type Stage } from './stage.ts';

let stage: Stage;
beforeAll(async () => {
  stage = await openStage('2026-11-02T10:00:00Z');
});
afterAll(() => stage?.close());

feedsSuite(() => stage);
figuresSuite(() => stage);
keyboardSuite(() => stage);
