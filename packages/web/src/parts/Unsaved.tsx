import { Button, Modal, Stack } from '@mantine/core';
import { useEffect } from 'react';
import { useBlocker } from 'react-router';

/**
 * Holds whoever leaves the page while something on it is not saved: what was typed is lost by a decision alone.
 * @param what what would be lost, as `2 figures`
 */
export function Unsaved({ when, what }: { when: boolean; what: string }) {
  const leaving = useBlocker(
    ({ currentLocation: now, nextLocation: next }) =>
      when && (now.pathname !== next.pathname || now.search !== next.search),
  );
  useEffect(() => {
    if (!when) return;
    // The browser asks in words of its own.
    const hold = (e: BeforeUnloadEvent) => e.preventDefault();
    addEventListener('beforeunload', hold);
    return () => removeEventListener('beforeunload', hold);
  }, [when]);
  return (
    <Modal opened={leaving.state === 'blocked'} onClose={() => leaving.reset?.()} title="Not saved yet" centered>
      <Stack>
        <p style={{ margin: 0 }}>If you leave now, {what} will be lost.</p>
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
