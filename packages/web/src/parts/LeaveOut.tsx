import type { Edition } from '@chronicon/core/contract';
import { Button } from '@mantine/core';
import { useState } from 'react';
import { call } from '../api/call.ts';
import { useChange } from '../api/hooks.ts';
import { Notice } from './Notice.tsx';

/** Leaves an edition out, asking once; what was left out can be taken up again. */
export function LeaveOut({ edition }: { edition: Edition }) {
  const [asking, setAsking] = useState(false);
  const skip = useChange(() => call('POST /api/editions/:edition/skip', { params: { edition: edition.id } }));
  const takeUp = useChange(() => call('POST /api/editions/take-up', { body: { editions: [edition.id] } }));
  return (
    <>
      {edition.may.skip && !asking && (
        <Button variant="subtle" color="red" onClick={() => setAsking(true)}>
          Skip this edition
        </Button>
      )}
      {edition.may.skip && asking && (
        <>
          <Button
            color="red"
            loading={skip.isPending}
            onClick={() => skip.mutate(undefined, { onSuccess: () => setAsking(false) })}
          >
            Skip: nobody receives it
          </Button>
          <Button variant="subtle" onClick={() => setAsking(false)}>
            Keep it
          </Button>
        </>
      )}
      {edition.may.takeUp && (
        <Button variant="outline" loading={takeUp.isPending} onClick={() => takeUp.mutate()}>
          Restore
        </Button>
      )}
      <Notice error={skip.error ?? takeUp.error} />
    </>
  );
}
