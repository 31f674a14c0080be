import { describe } from 'vitest';
import { CRASH_POINTS } from '../../platform/crashPoints.ts';
import { diesAndGoesOn, useCrashBed } from '../../test/crashFixture.ts';

const own = useCrashBed();

describe('kill -9 while mails are made and handed over', () => {
  diesAndGoesOn(
    own,
    CRASH_POINTS.filter((point) => /^(mail|send)/.test(point)),
  );
});
