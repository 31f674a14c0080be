import type { MemberRow } from '@chronicon/core/contract';
import { Button, Menu } from '@mantine/core';
import { useState } from 'react';
import { call } from '../../api/call.ts';
import { useChange, useGet } from '../../api/hooks.ts';
import { Loading } from '../../parts/Loading.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { PageTitle } from '../../parts/PageTitle.tsx';
import { momentOf } from '../../parts/when.ts';
import { useSession } from '../../shell/sessionContext.ts';
import { Delegate } from './Delegate.tsx';
import { LeaveForm } from './LeaveForm.tsx';
import { MemberForm } from './MemberForm.tsx';
import { RolesTable } from './RolesTable.tsx';

function State({ m }: { m: MemberRow }) {
  if (m.state === 'inactive') return <span className="muted">○ deactivated</span>;
  if (m.state === 'active') return <span className="tone-good">● active</span>;
  return m.invitedUntil ? (
    <span className="tone-attention">◌ invited, expires {momentOf(m.invitedUntil)}</span>
  ) : (
    <span className="tone-wrong">■ invitation expired</span>
  );
}

type Open = { what: 'invite' } | { what: 'change' | 'leave' | 'give'; id: string };

/** Who works here, what they may do, and which clients they see. */
export function People() {
  const session = useSession();
  const members = useGet('GET /api/members');
  const [open, setOpen] = useState<Open | null>(null);
  const [said, setSaid] = useState<string | null>(null);
  const act = useChange(async ({ what, m }: { what: 'again' | 'in' | 'factor'; m: MemberRow }) => {
    const params = { member: m.id };
    if (what === 'in') {
      await call('PUT /api/members/:member/active', { params, body: { active: true } });
      return `${m.name} is active again. Assign clients next.`;
    }
    if (what === 'factor') {
      await call('DELETE /api/members/:member/factor', { params });
      return `Two-factor authentication of ${m.name} is off. We’ve emailed them.`;
    }
    const { sent } = await call('POST /api/members/:member/invitation', { params });
    return sent ? `Invitation sent to ${m.email} again.` : 'The mail server rejected it. Check Settings, Email.';
  });
  const done = (words: string | null) => {
    setOpen(null);
    setSaid(words);
  };
  const begin = (next: Open) => {
    setSaid(null);
    act.reset();
    setOpen(next);
  };
  const run = (what: 'again' | 'in' | 'factor', m: MemberRow) =>
    act.mutate({ what, m }, { onSuccess: (words) => done(words) });
  const chosen = open && 'id' in open ? members.data?.find((m) => m.id === open.id) : undefined;
  return (
    <main className="place spaced">
      <div className="place-head">
        <PageTitle of={['People']} />
        <h1>People</h1>
        <div className="acts">
          <Button onClick={() => begin({ what: 'invite' })}>Invite a member</Button>
        </div>
      </div>
      <Notice error={members.error ?? act.error} />
      {said && (
        <p className="note" role="status">
          {said}
        </p>
      )}
      {open?.what === 'invite' && <MemberForm member={null} onDone={done} />}
      {open?.what === 'change' && chosen && <MemberForm key={chosen.id} member={chosen} onDone={done} />}
      {open?.what === 'leave' && chosen && <LeaveForm key={chosen.id} member={chosen} onDone={done} />}
      {open?.what === 'give' && chosen && <Delegate from={chosen} />}
      {!members.data ? (
        !members.error && <Loading />
      ) : (
        <table className="list">
          <thead>
            <tr>
              <th>Name</th>
              <th>Role</th>
              <th>State</th>
              <th>Clients</th>
              <th>Two-factor</th>
              <th>Last seen</th>
              <th>
                <span className="reading-only">Actions</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {members.data.map((m) => (
              <tr key={m.id}>
                <td>
                  <b>{m.name}</b>
                  <div className="small muted">{m.email}</div>
                </td>
                <td>{m.role}</td>
                <td>
                  <State m={m} />
                </td>
                <td>
                  {m.role === 'owner' && m.state === 'active' ? 'all' : m.clients.length}
                  {m.manages.length > 0 && <span className="muted small"> · manages {m.manages.length}</span>}
                </td>
                <td>{m.factor ? 'yes' : <span className="muted">no</span>}</td>
                <td>{m.seen ? momentOf(m.seen) : <span className="muted">–</span>}</td>
                <td>
                  <span className="row" style={{ gap: 4, flexWrap: 'nowrap', justifyContent: 'end' }}>
                    <Button
                      size="compact-xs"
                      variant="default"
                      aria-label={`Change ${m.name}`}
                      onClick={() => begin({ what: 'change', id: m.id })}
                    >
                      Change
                    </Button>
                    <Menu position="bottom-end">
                      <Menu.Target>
                        <Button size="compact-xs" variant="subtle" aria-label={`More for ${m.name}`}>
                          More
                        </Button>
                      </Menu.Target>
                      <Menu.Dropdown>
                        {m.state === 'invited' && (
                          <Menu.Item onClick={() => run('again', m)}>Resend invitation</Menu.Item>
                        )}
                        {m.manages.length > 0 && (
                          <Menu.Item onClick={() => begin({ what: 'give', id: m.id })}>Hand over clients</Menu.Item>
                        )}
                        {m.factor && m.id !== session.member.id && (
                          <Menu.Item onClick={() => run('factor', m)}>Turn off two-factor</Menu.Item>
                        )}
                        {m.state === 'inactive' ? (
                          <Menu.Item onClick={() => run('in', m)}>Reactivate</Menu.Item>
                        ) : (
                          <Menu.Item color="red" onClick={() => begin({ what: 'leave', id: m.id })}>
                            Deactivate
                          </Menu.Item>
                        )}
                      </Menu.Dropdown>
                    </Menu>
                  </span>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <RolesTable />
    </main>
  );
}
