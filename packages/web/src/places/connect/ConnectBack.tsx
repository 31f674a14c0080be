import { Button } from '@mantine/core';
import { useEffect, useRef } from 'react';
import { Link, useNavigate, useSearchParams } from 'react-router';
import { call } from '../../api/call.ts';
import { useChange } from '../../api/hooks.ts';
import { Loading } from '../../parts/Loading.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { PageTitle } from '../../parts/PageTitle.tsx';
import { whereNext } from './authorise.ts';

/** Where a service sends the browser back to: ends the round trip and goes on. */
export function ConnectBack() {
  const [search] = useSearchParams();
  const navigate = useNavigate();
  const state = search.get('state') ?? '';
  const code = search.get('code') ?? '';
  const finish = useChange(() => call('POST /api/connections/finish', { body: { state, code } }));
  const begun = useRef(false);
  useEffect(() => {
    // The code is good once: a second drawing of this page must not spend it.
    if (begun.current || code === '') return;
    begun.current = true;
    finish.mutate(undefined, { onSuccess: (made) => navigate(whereNext(made.id), { replace: true }) });
  });
  const refused = code === '';
  return (
    <main className="place">
      <PageTitle of={['Connect services']} />
      <h1>{refused || finish.error ? 'Not connected' : 'Connecting…'}</h1>
      {refused && <p>Access was denied. Nothing was connected.</p>}
      <Notice error={finish.error} />
      {refused || finish.error ? (
        <Button component={Link} to="/connect">
          Start again
        </Button>
      ) : (
        <Loading lines={2} />
      )}
    </main>
  );
}
