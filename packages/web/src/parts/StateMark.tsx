import type { Edition } from '@chronicon/core/contract';
import { STATE_LABELS } from '@chronicon/core/contract/stateLabels';

type State = Edition['state'];

const LOOKS: Record<State, { tone: string; shape: 'ring' | 'arc' | 'dot' | 'diamond' | 'square' | 'bar' }> = {
  planned: { tone: 'muted', shape: 'ring' },
  collecting: { tone: 'accent', shape: 'arc' },
  review: { tone: 'attention', shape: 'diamond' },
  ready: { tone: 'accent', shape: 'diamond' },
  sending: { tone: 'accent', shape: 'arc' },
  sent: { tone: 'good', shape: 'dot' },
  'part-sent': { tone: 'wrong', shape: 'square' },
  held: { tone: 'wrong', shape: 'square' },
  skipped: { tone: 'muted', shape: 'bar' },
  replaced: { tone: 'muted', shape: 'bar' },
};

const SHAPES = {
  ring: <circle cx="6" cy="6" r="4.2" fill="none" stroke="currentColor" strokeWidth="1.6" />,
  arc: <path d="M6 1.8A4.2 4.2 0 1 1 1.8 6" fill="none" stroke="currentColor" strokeWidth="1.8" />,
  dot: <circle cx="6" cy="6" r="5" fill="currentColor" />,
  diamond: <path d="M6 .8 11.2 6 6 11.2.8 6z" fill="none" stroke="currentColor" strokeWidth="1.6" />,
  square: <rect x="1.5" y="1.5" width="9" height="9" fill="currentColor" />,
  bar: <rect x="1" y="4.8" width="10" height="2.4" fill="currentColor" />,
};

/** The state of an edition as shape, word and colour together. */
export function StateMark({ state }: { state: State }) {
  const look = LOOKS[state];
  return (
    <span className={`state tone-${look.tone}`}>
      <StateShape state={state} />
      {STATE_LABELS[state]}
    </span>
  );
}

/** The shape and the colour of a state alone, where its word stands elsewhere. */
export function StateShape({ state }: { state: State }) {
  const look = LOOKS[state];
  return (
    <svg className={`tone-${look.tone}`} width="12" height="12" viewBox="0 0 12 12" aria-hidden="true">
      {SHAPES[look.shape]}
    </svg>
  );
}

export const STATES = Object.keys(LOOKS) as State[];
