import type { Client, ClientInput } from '@chronicon/core/contract';
import { call } from '../../api/call.ts';
import { useChange, useGet } from '../../api/hooks.ts';
import { Loading } from '../../parts/Loading.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { useSession } from '../../shell/sessionContext.ts';
import { ClientForm } from '../clients/ClientForm.tsx';
import { Record } from './Record.tsx';

export function Setup({ client }: { client: Client }) {
  const { member } = useSession();
  const offer = useGet('GET /api/clients/settings');
  const save = useChange((body: ClientInput) =>
    call('PUT /api/clients/:client', { params: { client: client.id }, body }),
  );
  if (!offer.data) return offer.error ? <Notice error={offer.error} /> : <Loading />;
  const keys = ['name', ...offer.data.settings.map((s) => s.key)] as (keyof ClientInput)[];
  return (
    <div className="columns even">
      <div className="stack">
        {client.fixed && <p className="note small">{client.fixed}</p>}
        <ClientForm
          settings={offer.data.settings}
          initial={Object.fromEntries(keys.map((key) => [key, client[key]])) as unknown as ClientInput}
          action="Save"
          busy={save.isPending}
          saved={false}
          error={save.error}
          onSubmit={(body) => save.mutate(body)}
        />
        {save.isSuccess && <span className="tone-good">Saved</span>}
      </div>
      {(member.role === 'owner' || member.role === 'manager') && <Record client={client} />}
    </div>
  );
}
