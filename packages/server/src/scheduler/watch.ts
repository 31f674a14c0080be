import { tellByMail } from './notices.ts';
import { readBounceBox } from './readBounceBox.ts';
import { sweepLeftFiles } from './sweep.ts';
import { tellOfEditions } from './tellOfEditions.ts';
import type { Tools } from './tools.ts';

/** Milliseconds by the clock that only goes forward between looks at what the server stands on, and between notices. */
const LOOK_EVERY = 2_000;
const TELL_EVERY = 20_000;
/** Between looks into the mailbox to which mails come back. */
const READ_EVERY = 60_000;
/** Between sweeps of drawings that nothing points to. */
const SWEEP_EVERY = 24 * 60 * 60 * 1000;

/** Looks after the server itself, between the beats: is it well, and who has to be told that something is not. */
export interface Watch {
  look(): Promise<void>;
  /** Resolves when whoever is being told has been told. */
  idle(): Promise<void>;
}

export function createWatch(tools: Tools, ending: AbortSignal): Watch {
  let looked = Number.NEGATIVE_INFINITY;
  let told = Number.NEGATIVE_INFINITY;
  let swept = Number.NEGATIVE_INFINITY;
  let read = Number.NEGATIVE_INFINITY;
  let reading: Promise<void> | null = null;
  let telling: Promise<void> | null = null;
  let sweeping: Promise<void> | null = null;
  return {
    async look() {
      const steady = tools.clock.steady();
      // While something is wrong, every beat looks whether it is mended.
      if (steady - looked >= LOOK_EVERY || tools.health.troubles().length > 0) {
        looked = steady;
        await tools.health.look();
      }
      if (sweeping === null && steady - swept >= SWEEP_EVERY) {
        swept = steady;
        // Beside the beat: it looks at one file after the other.
        sweeping = sweepLeftFiles(tools)
          .then(() => undefined)
          .catch((err) => tools.log.error({ err }, 'drawings that nothing points to could not be swept'))
          .finally(() => {
            sweeping = null;
          });
      }
      if (reading === null && steady - read >= READ_EVERY && tools.health.troubles().length === 0) {
        read = steady;
        // Beside the beat: a mailbox that is slow keeps no edition waiting.
        reading = readBounceBox(tools, ending)
          .catch((err) => tools.log.error({ err }, 'the mailbox for what comes back could not be read'))
          .finally(() => {
            reading = null;
          });
      }
      if (telling === null && steady - told >= TELL_EVERY && tools.health.troubles().length === 0) {
        told = steady;
        // Beside the beat: a mail server that is slow to take a notice keeps no edition waiting.
        telling = tellByMail(tools, ending)
          .then(() => tellOfEditions(tools, ending))
          .catch((err) => tools.log.error({ err }, 'nobody could be told by mail'))
          .finally(() => {
            telling = null;
          });
      }
    },
    async idle() {
      await Promise.all([telling, sweeping, reading]);
    },
  };
}
