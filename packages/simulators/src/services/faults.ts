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
  refused: 'has revoked the token (401)',
  busy: 'asks to come back later (429 with Retry-After)',
  broken: 'answers JSON that breaks off',
  late: 'delivers three days late',
  restated: 'has restated its last three days',
  schema: 'calls a measure by another name',
  swapped: 'shows another account under this number',
};

export interface Faults {
  of(account: string): Fault;
  set(account: string, fault: Fault): void;
  all(): Record<string, Fault>;
}

export function createFaults(): Faults {
  const set = new Map<string, Fault>();
  return {
    of: (account) => set.get(account) ?? 'none',
    set: (account, fault) => {
      if (fault === 'none') set.delete(account);
      else set.set(account, fault);
    },
    all: () => Object.fromEntries(set),
  };
}
