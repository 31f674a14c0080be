import { Button, Modal, Stack } from '@mantine/core';
import { useEffect, useState } from 'react';
import { useBlocker } from 'react-router';

interface Props {
  when: boolean;
  /** What would be lost, as `2 figures`. */
  what: string;
  /** What stands after the question mark says what of the page is looked at: changing it is not leaving. */
  pathOnly?: boolean;
  /** Saves what can be saved by itself; true when nothing is left that would be lost. */
  settle?: () => Promise<boolean>;
}

/** Holds whoever leaves the page while something on it is not saved: what was typed is lost by a decision alone. */
export function Unsaved({ when, what, pathOnly = false, settle }: Props) {
  const [settling, setSettling] = useState(false);
  const leaving = useBlocker(
    ({ currentLocation: now, nextLocation: next }) =>
      when && (now.pathname !== next.pathname || (!pathOnly && now.search !== next.search)),
  );
  const { state, proceed } = leaving;
  // biome-ignore lint/correctness/useExhaustiveDependencies: once for each time that somebody leaves
  useEffect(() => {
    if (state !== 'blocked' || !settle) return;
    setSettling(true);
    settle()
      .then((saved) => saved && proceed?.())
      .finally(() => setSettling(false));
  }, [state]);
  useEffect(() => {
    if (!when) return;
    // The browser asks in words of its own.
    const hold = (e: BeforeUnloadEvent) => e.preventDefault();
    addEventListener('beforeunload', hold);
    return () => removeEventListener('beforeunload', hold);
  }, [when]);
  return (
    <Modal
      opened={leaving.state === 'blocked' && !settling}
      onClose={() => leaving.reset?.()}
      title="Unsaved changes"
      centered
    >
      <Stack>
        <p style={{ margin: 0 }}>Leave now and you’ll lose {what}.</p>
        <div className="row">
          <Button data-autofocus onClick={() => leaving.reset?.()}>
            Stay here
          </Button>
          <Button variant="subtle" color="red" onClick={() => leaving.proceed?.()}>
            Leave without saving
          </Button>
        </div>
      </Stack>
    </Modal>
  );
}
