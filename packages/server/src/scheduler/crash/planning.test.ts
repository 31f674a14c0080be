import { describe } from 'vitest';
import { CRASH_POINTS } from '../../platform/crashPoints.ts';
import { diesAndGoesOn, useCrashBed } from '../../test/crashFixture.ts';

const own = useCrashBed();

describe('kill -9 while runs are planned and data is collected', () => {
  diesAndGoesOn(
    own,
    CRASH_POINTS.filter((point) => /^(plan|collect)/.test(point)),
  );
});
