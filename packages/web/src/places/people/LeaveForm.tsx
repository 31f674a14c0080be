import type { MemberRow } from '@chronicon/core/contract';
import { Button, NativeSelect } from '@mantine/core';
import { useState } from 'react';
import { Link } from 'react-router';
import { call } from '../../api/call.ts';
import { useChange, useGet } from '../../api/hooks.ts';
import { Loading } from '../../parts/Loading.tsx';
import { fieldError, formError, Notice } from '../../parts/Notice.tsx';
import { plural } from '../../parts/when.ts';

/** Lets somebody in no more: what they have in hand is listed first, and given to a colleague. */
export function LeaveForm({ member, onDone }: { member: MemberRow; onDone: (said: string | null) => void }) {
  const params = { member: member.id };
  const holdings = useGet('GET /api/members/:member/holdings', { params });
  const colleagues = useGet('GET /api/colleagues');
  const [to, setTo] = useState('');
  const leave = useChange(() =>
    call('PUT /api/members/:member/active', { params, body: { active: false, to: to === '' ? null : to } }),
  );
  if (!holdings.data) return holdings.error ? <Notice error={holdings.error} /> : <Loading lines={3} />;
  const { manages, schedules, waiting, connections } = holdings.data;
  const others = (colleagues.data ?? []).filter(
    (c) => c.id !== member.id && (c.role === 'owner' || c.role === 'manager'),
  );
  return (
    <section className="card stack settings-form" aria-label={`${member.name} leaves`}>
      <h2>{member.name} leaves</h2>
      <p>Signs them out and blocks sign-in. Their work stays under their name. You can reactivate them later.</p>
      {manages.length > 0 ? (
        <>
          <dl className="facts">
            <dt>Manages</dt>
            <dd>{manages.map((c) => c.name).join(', ')}</dd>
            <dt>Schedules</dt>
            <dd>
              {schedules === 0 ? 'none' : `${plural(schedules, 'schedule')} of these: replies go to the colleague`}
            </dd>
            <dt>Waiting</dt>
            <dd>
              {waiting.length === 0
                ? 'no edition needs review'
                : waiting.map((w) => (
                    <div key={w.id}>
                      <Link to={`/editions/${w.id}`}>{w.label}</Link>
                    </div>
                  ))}
            </dd>
            {connections > 0 && (
              <>
                <dt>Connections</dt>
                <dd>{plural(connections, 'connection')} to services were made by them; they keep working.</dd>
              </>
            )}
          </dl>
          <NativeSelect
            label="Who takes the clients"
            data={[{ value: '', label: 'Choose a colleague' }, ...others.map((o) => ({ value: o.id, label: o.name }))]}
            value={to}
            onChange={(e) => setTo(e.currentTarget.value)}
            error={fieldError(leave.error, 'to')}
          />
        </>
      ) : (
        <p className="muted">They manage no clients.</p>
      )}
      <Notice error={formError(leave.error, ['to'])} />
      <div className="row">
        <Button
          color="red.9"
          loading={leave.isPending}
          disabled={manages.length > 0 && to === ''}
          onClick={() => leave.mutate(undefined, { onSuccess: () => onDone(`${member.name} is deactivated.`) })}
        >
          {manages.length > 0 ? 'Hand over and deactivate' : 'Deactivate'}
        </Button>
        <Button variant="subtle" onClick={() => onDone(null)}>
          Cancel
        </Button>
      </div>
    </section>
  );
}
