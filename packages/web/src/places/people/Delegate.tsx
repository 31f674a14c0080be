import { Button, MultiSelect, NativeSelect, Radio } from '@mantine/core';
import { type FormEvent, useState } from 'react';
import { call } from '../../api/call.ts';
import { useChange, useGet } from '../../api/hooks.ts';
import { DateField } from '../../parts/DateField.tsx';
import { FormEnd } from '../../parts/FormEnd.tsx';
import { fieldError, Notice } from '../../parts/Notice.tsx';
import { Unsaved } from '../../parts/Unsaved.tsx';
import { dayWithYear, plural } from '../../parts/when.ts';
import { useSession } from '../../shell/sessionContext.ts';

const FIELDS = ['to', 'clients', 'through'];

interface Props {
  /** Whose clients; oneself where left out. */
  from?: { id: string; name: string };
}

function GiveForm({ from, onDone }: { from: { id: string; name: string }; onDone: () => void }) {
  const { member } = useSession();
  const own = from.id === member.id;
  const mine = useGet('GET /api/clients/names', { query: { scope: 'mine' } }, { enabled: own });
  const members = useGet('GET /api/members', {}, { enabled: !own });
  const colleagues = useGet('GET /api/colleagues');
  const offered = own ? (mine.data ?? []) : (members.data?.find((m) => m.id === from.id)?.manages ?? []);
  const others = (colleagues.data ?? []).filter(
    (c) => c.id !== from.id && (c.role === 'owner' || c.role === 'manager'),
  );
  const [to, setTo] = useState('');
  const [clients, setClients] = useState<string[]>([]);
  const [time, setTime] = useState<'while' | 'good'>('while');
  const [through, setThrough] = useState('');
  const give = useChange(() =>
    call('POST /api/delegations', { body: { from: from.id, to, clients, through: time === 'good' ? null : through } }),
  );
  const submit = (e: FormEvent) => {
    e.preventDefault();
    give.mutate(undefined, { onSuccess: onDone });
  };
  const ready = to !== '' && clients.length > 0 && (time === 'good' || through !== '');
  const name = others.find((o) => o.id === to)?.name;
  return (
    <form className="stack" onSubmit={submit} noValidate>
      <Unsaved when={clients.length > 0 && !give.isPending && !give.isSuccess} what="your choices" />
      <NativeSelect
        label="To"
        data={[{ value: '', label: 'Choose a colleague' }, ...others.map((o) => ({ value: o.id, label: o.name }))]}
        value={to}
        onChange={(e) => setTo(e.currentTarget.value)}
        error={fieldError(give.error, 'to')}
      />
      <MultiSelect
        label="Clients"
        searchable
        data={offered.map((c) => ({ value: c.id, label: c.name }))}
        value={clients}
        onChange={setClients}
        error={fieldError(give.error, 'clients')}
        nothingFoundMessage="No matching clients"
      />
      {offered.length > 1 && clients.length < offered.length && (
        <div>
          <Button variant="subtle" size="compact-sm" onClick={() => setClients(offered.map((c) => c.id))}>
            All {offered.length}
          </Button>
        </div>
      )}
      <Radio.Group label="How long" value={time} onChange={(v) => setTime(v as typeof time)}>
        <div className="row" style={{ marginTop: 6 }}>
          <Radio value="while" label="Temporary" />
          <Radio value="good" label="Permanent" />
        </div>
      </Radio.Group>
      {time === 'while' && (
        <DateField
          label="Through"
          description="Returned automatically after this date"
          value={through}
          onChange={(date) => setThrough(date)}
          error={fieldError(give.error, 'through')}
        />
      )}
      {ready && (
        <p className="muted small">
          {name} becomes the manager of {plural(clients.length, 'client')} now: reader replies and alerts go to {name}.
        </p>
      )}
      <FormEnd
        error={give.error}
        fields={FIELDS}
        pending={give.isPending}
        save="Hand over"
        disabled={!ready}
        onCancel={onDone}
      />
    </form>
  );
}

/** Clients that are given to a colleague, for a while or for good. */
export function Delegate({ from }: Props) {
  const { member } = useSession();
  const whose = from ?? { id: member.id, name: member.name };
  const all = useGet('GET /api/delegations');
  const [giving, setGiving] = useState(false);
  const back = useChange((delegation: string) =>
    call('DELETE /api/delegations/:delegation', { params: { delegation } }),
  );
  const given = (all.data ?? []).filter((h) => [h.from.id, h.to.id].includes(whose.id));
  return (
    <section className="card stack" aria-label="Clients handed over">
      <h2>{from ? `Clients of ${from.name}` : 'Your clients handed over'}</h2>
      {given.map((h) => (
        <div key={h.id} className="row" style={{ justifyContent: 'space-between' }}>
          <span>
            {h.clients.map((c) => c.name).join(', ')}
            <span className="muted small">
              {' '}
              · {h.from.id === whose.id ? `with ${h.to.name}` : `of ${h.from.name}`} through {dayWithYear(h.through)}
            </span>
          </span>
          <Button
            size="compact-sm"
            variant="default"
            loading={back.isPending && back.variables === h.id}
            onClick={() => back.mutate(h.id)}
          >
            {h.from.id === member.id ? 'Return to me' : 'Give back'}
          </Button>
        </div>
      ))}
      <Notice error={back.error ?? all.error} />
      {giving ? (
        <GiveForm from={whose} onDone={() => setGiving(false)} />
      ) : (
        <div>
          <Button variant="outline" onClick={() => setGiving(true)}>
            Hand over clients
          </Button>
        </div>
      )}
    </section>
  );
}
