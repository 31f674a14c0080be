import { Button } from '@mantine/core';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { call } from '../../api/call.ts';
import { useGet } from '../../api/hooks.ts';
import { Loading } from '../../parts/Loading.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { Factor } from './Factor.tsx';

/** All that is shown before a second factor is set up, where the agency asks for one. */
export function SetUpFactor() {
  const client = useQueryClient();
  // What it begins with stays while it is set up: the codes are to be seen before the session goes on.
  const me = useGet('GET /api/me');
  const [kept, setKept] = useState(me.data);
  if (!kept && me.data) setKept(me.data);
  return (
    <main className="sign-in wide">
      {kept ? <Factor me={kept} onCodesKept={() => client.resetQueries()} /> : <Loading />}
      <Notice error={me.error} />
      <div>
        <Button variant="subtle" onClick={() => call('DELETE /api/session').then(() => client.resetQueries())}>
          Sign out
        </Button>
      </div>
    </main>
  );
}
