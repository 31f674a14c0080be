import type { Client, ClientInput } from '@chronicon/core/contract';
import { call } from '../../api/call.ts';
import { useChange } from '../../api/hooks.ts';
import { ClientForm } from '../clients/ClientForm.tsx';

export function Setup({ client }: { client: Client }) {
  const save = useChange((body: ClientInput) =>
    call('PUT /api/clients/:client', { params: { client: client.id }, body }),
  );
  const { name, site, zone, currency, language, weekStart, fiscalStart, startDate } = client;
  return (
    <div className="stack">
      <ClientForm
        initial={{ name, site, zone, currency, language, weekStart, fiscalStart, startDate }}
        action="Save"
        busy={save.isPending}
        saved={false}
        error={save.error}
        onSubmit={(body) => save.mutate(body)}
      />
      {save.isSuccess && <span className="tone-good">Saved</span>}
    </div>
  );
}
