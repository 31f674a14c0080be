import type { SimulatorClock } from '../clock.ts';
import type { Keep } from '../keep.ts';

/** How the service can be told to misbehave, for one account. */
export const FAULTS = [
  'none',
  'down',
  'slow',
  'refused',
  'busy',
  'broken',
  'late',
  'restated',
  'schema',
  'swapped',
] as const;
export type Fault = (typeof FAULTS)[number];

export const FAULT_WORDS: Record<Fault, string> = {
  none: 'behaves',
  down: 'answers 500',
  slow: 'answers after a minute',
  refused: 'has revoked the tokens that it gave until now (401)',
  busy: 'asks to come back later (429 with Retry-After)',
  broken: 'answers JSON that breaks off',
  late: 'delivers three days late',
  restated: 'has restated its last three days',
  schema: 'calls a measure by another name',
  swapped: 'shows another account under this number',
};

export interface Faults {
  of(account: string): Fault;
  /** When the account began to misbehave, in milliseconds since 1970. */
  since(account: string): number;
  set(account: string, fault: Fault): void;
  all(): Record<string, Fault>;
}

/** They last until somebody ends them, over a restart too. */
export function createFaults(clock: SimulatorClock, keep: Keep): Faults {
  const set = new Map(Object.entries(keep.read<Record<string, { fault: Fault; since: number }>>('faults') ?? {}));
  return {
    of: (account) => set.get(account)?.fault ?? 'none',
    since: (account) => set.get(account)?.since ?? 0,
    set: (account, fault) => {
      if (fault === 'none') set.delete(account);
      else set.set(account, { fault, since: clock.now().getTime() });
      keep.write('faults', Object.fromEntries(set));
    },
    all: () => Object.fromEntries([...set].map(([account, { fault }]) => [account, fault])),
  };
}
