import type { ClientInput } from '@chronicon/core/contract';
import { useNavigate } from 'react-router';
import { call } from '../../api/call.ts';
import { useChange, useGet } from '../../api/hooks.ts';
import { Loading } from '../../parts/Loading.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { PageTitle } from '../../parts/PageTitle.tsx';
import { ClientForm } from './ClientForm.tsx';

export function NewClient() {
  const navigate = useNavigate();
  const offer = useGet('GET /api/clients/settings');
  const create = useChange((body: ClientInput) => call('POST /api/clients', { body }));
  return (
    <main className="place">
      <div className="place-head">
        <PageTitle of={['New client']} />
        <h1>New client</h1>
        <span className="muted small">You’ll add contacts, feeds and reports next.</span>
      </div>
      <Notice error={offer.error} />
      {offer.isPending && <Loading />}
      {offer.data && (
        <ClientForm
          settings={offer.data.settings}
          initial={{ name: '', ...offer.data.fresh }}
          action="Create client"
          busy={create.isPending}
          saved={create.isSuccess}
          error={create.error}
          onSubmit={(body) => create.mutate(body, { onSuccess: (client) => navigate(`/clients/${client.id}`) })}
        />
      )}
    </main>
  );
}
