import { Button } from '@mantine/core';
import { Link, useNavigate } from 'react-router';
import { useGet } from '../../api/hooks.ts';
import { Loading } from '../../parts/Loading.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { PageTitle } from '../../parts/PageTitle.tsx';
import { MailServerForm } from '../settings/MailServerForm.tsx';

/** The second step of the first start: where mails go out. */
export function FirstMail() {
  const agency = useGet('GET /api/agency');
  const navigate = useNavigate();
  const set = agency.data?.mail.main ?? null;
  return (
    <main className="place">
      <div className="place-head">
        <PageTitle of={['Set up email']} />
        <h1>Set up email</h1>
        <span className="muted small">Next: your first client.</span>
      </div>
      <Notice error={agency.error} />
      {!agency.data ? (
        !agency.error && <Loading />
      ) : (
        <section className="card stack settings-form" aria-label="Mail server">
          <h2>Your mail server</h2>
          {set?.setBy ? (
            <>
              <p>
                Set by environment variables: {set.host}, port {set.port} ({set.setBy}).
              </p>
              <div>
                <Button component={Link} to="/clients/new">
                  Continue to the first client
                </Button>
              </div>
            </>
          ) : (
            <MailServerForm use="main" kept={set} onDone={() => navigate('/clients/new')}>
              <Button variant="subtle" component={Link} to="/clients/new">
                Later
              </Button>
            </MailServerForm>
          )}
        </section>
      )}
    </main>
  );
}
