import { useReducer } from 'react';

interface History<T> {
  past: T[];
  present: T;
  future: T[];
}

type Step<T> = { do: 'change'; to: T } | { do: 'undo' } | { do: 'redo' };

function step<T>(h: History<T>, s: Step<T>): History<T> {
  switch (s.do) {
    case 'change':
      return { past: [...h.past, h.present], present: s.to, future: [] };
    case 'undo': {
      const back = h.past.at(-1);
      return back === undefined ? h : { past: h.past.slice(0, -1), present: back, future: [h.present, ...h.future] };
    }
    case 'redo': {
      const [next, ...future] = h.future;
      return next === undefined ? h : { past: [...h.past, h.present], present: next, future };
    }
  }
}

/** A value with everything it has been: undo and redo without limit. */
export function useHistory<T>(initial: T) {
  const [h, dispatch] = useReducer(step<T>, { past: [], present: initial, future: [] });
  return {
    value: h.present,
    change: (to: T) => dispatch({ do: 'change', to }),
    undo: () => dispatch({ do: 'undo' }),
    redo: () => dispatch({ do: 'redo' }),
    mayUndo: h.past.length > 0,
    mayRedo: h.future.length > 0,
  };
}
