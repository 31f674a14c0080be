import type { ClientInput } from '@chronicon/core/contract';
import { useNavigate } from 'react-router';
import { call } from '../../api/call.ts';
import { useChange } from '../../api/hooks.ts';
import { useSession } from '../../shell/session.tsx';
import { ClientForm } from './ClientForm.tsx';

export function NewClient() {
  const navigate = useNavigate();
  const { now } = useSession();
  const create = useChange((body: ClientInput) => call('POST /api/clients', { body }));
  const initial: ClientInput = {
    name: '',
    site: '',
    zone: 'Europe/London',
    currency: 'GBP',
    language: 'en-GB',
    weekStart: 1,
    fiscalStart: 1,
    startDate: now.slice(0, 10),
  };
  return (
    <main className="place">
      <div className="place-head">
        <h1>New client</h1>
        <span className="muted small">Contacts, feeds and reports come next.</span>
      </div>
      <ClientForm
        initial={initial}
        action="Make this client"
        busy={create.isPending}
        saved={create.isSuccess}
        error={create.error}
        onSubmit={(body) => create.mutate(body, { onSuccess: (client) => navigate(`/clients/${client.id}`) })}
      />
    </main>
  );
}
