import { Button } from '@mantine/core';
import { useState } from 'react';
import { call, type Reply } from '../../api/call.ts';
import { useChange } from '../../api/hooks.ts';
import { Notice } from '../../parts/Notice.tsx';
import { BoxPart } from './BoxPart.tsx';
import { DkimPart, MailRulesPart } from './MailRulesPart.tsx';
import { MailServerForm } from './MailServerForm.tsx';
import type { PartProps } from './part.ts';
import { UnreadMails } from './UnreadMails.tsx';

const ENCRYPTION = {
  implicit: 'TLS',
  require: 'STARTTLS required',
  offered: 'STARTTLS if available',
  never: 'not encrypted',
};

type Said = Reply<'PUT /api/agency/mail/:use'>;

interface ServerProps extends PartProps {
  use: 'main' | 'notices';
  title: string;
  about: string;
}

function Server({ use, title, about, data, mayChange }: ServerProps) {
  const kept = data.mail[use];
  const [editing, setEditing] = useState(false);
  const [said, setSaid] = useState<Said | null>(null);
  const remove = useChange(() => call('DELETE /api/agency/mail/:use', { params: { use } }));
  const [asking, setAsking] = useState(false);
  const open = editing || (kept === null && use === 'main' && mayChange);
  return (
    <section className="card stack settings-form" aria-label={title}>
      <h2>{title}</h2>
      <p className="muted small">{about}</p>
      {kept && !open && (
        <p>
          <b>
            {kept.host}, port {kept.port}
          </b>
          , {ENCRYPTION[kept.tls]}, {kept.user === '' ? 'without signing in' : `as ${kept.user}`}
          {kept.setBy && <span className="muted"> · set by environment variables ({kept.setBy})</span>}
        </p>
      )}
      {!kept && !open && <p className="muted">Not set up.</p>}
      {said && !open && (
        <p className="tone-good" role="status">
          Saved. We sent an email to {said.to}; the server replied: {said.said}
        </p>
      )}
      {open ? (
        <MailServerForm
          use={use}
          kept={kept}
          onDone={(answer) => {
            setSaid(answer);
            setEditing(false);
          }}
        >
          {kept && (
            <Button variant="subtle" onClick={() => setEditing(false)}>
              Cancel
            </Button>
          )}
        </MailServerForm>
      ) : (
        mayChange &&
        !kept?.setBy && (
          <div className="row">
            <Button variant={kept ? 'default' : 'outline'} onClick={() => setEditing(true)}>
              {kept ? 'Change it' : 'Set up'}
            </Button>
            {kept && (
              <Button
                variant={asking ? 'filled' : 'subtle'}
                color="red"
                loading={remove.isPending}
                onClick={() =>
                  asking ? remove.mutate(undefined, { onSettled: () => setAsking(false) }) : setAsking(true)
                }
              >
                {asking ? (use === 'main' ? 'Remove (stops all reports)' : 'Remove it now') : 'Remove it'}
              </Button>
            )}
            {asking && (
              <Button variant="subtle" onClick={() => setAsking(false)}>
                Cancel
              </Button>
            )}
          </div>
        )
      )}
      <Notice error={remove.error} />
    </section>
  );
}

/** Where mails are handed over: reports, and letters to members. */
export function MailPart(props: PartProps) {
  return (
    <div className="stack">
      <Server
        {...props}
        use="main"
        title="Mail server for reports"
        about="Sends every report and every email to members."
      />
      <Server
        {...props}
        use="notices"
        title="Second mail server, for alerts"
        about="Used to alert managers and owners if the main server fails. Never sends reports."
      />
      <MailRulesPart {...props} />
      <UnreadMails {...props} />
      <BoxPart {...props} />
      <DkimPart {...props} />
    </div>
  );
}
