import { Button, PasswordInput, TextInput } from '@mantine/core';
import { type FormEvent, useState } from 'react';
import { call, type Reply } from '../../api/call.ts';
import { useChange, useGet } from '../../api/hooks.ts';
import { FormEnd } from '../../parts/FormEnd.tsx';
import { Loading } from '../../parts/Loading.tsx';
import { fieldError, Notice } from '../../parts/Notice.tsx';
import { Unsaved } from '../../parts/Unsaved.tsx';
import { plural } from '../../parts/when.ts';
import type { PartProps } from './part.ts';

type Service = Reply<'GET /api/services'>[number];

const FIELDS = ['name', 'address', 'clientId', 'clientSecret'];

function ServiceForm({ service, onDone }: { service: Service; onDone: () => void }) {
  const begin = { address: service.address ?? '', clientId: service.clientId, clientSecret: '', name: service.name };
  const [input, setInput] = useState(begin);
  const isFurther = service.next === null && service.kind.includes('.');
  const set = (patch: Partial<typeof begin>) => setInput((i) => ({ ...i, ...patch }));
  const save = useChange(() => {
    const { clientSecret, name, ...others } = input;
    const rest = isFurther ? { ...others, name } : others;
    const keeps = clientSecret === '' && service.hasSecret;
    const body = keeps ? rest : { ...rest, clientSecret };
    return call('PUT /api/services/:kind', { params: { kind: service.kind }, body });
  });
  const submit = (e: FormEvent) => {
    e.preventDefault();
    save.mutate(undefined, { onSuccess: onDone });
  };
  return (
    <form className="stack" onSubmit={submit} noValidate>
      <Unsaved
        when={JSON.stringify(input) !== JSON.stringify(begin) && !save.isPending && !save.isSuccess}
        what="your changes to the service"
      />
      {isFurther && (
        <TextInput
          label="Name"
          description="Distinguishes its feeds from others of the same kind"
          value={input.name}
          onChange={(e) => set({ name: e.currentTarget.value })}
          error={fieldError(save.error, 'name')}
        />
      )}
      <TextInput
        label="Address"
        placeholder="https://service.example/api"
        value={input.address}
        onChange={(e) => set({ address: e.currentTarget.value })}
        error={fieldError(save.error, 'address')}
      />
      <div className="field-pairs">
        <TextInput
          label="Client id"
          description="From the service’s registration of your agency. Leave empty if you enter tokens manually"
          autoComplete="off"
          value={input.clientId}
          onChange={(e) => set({ clientId: e.currentTarget.value })}
          error={fieldError(save.error, 'clientId')}
        />
        <PasswordInput
          label="Client secret"
          description={service.hasSecret ? 'Leave empty to keep the current one' : 'Leave empty if none'}
          autoComplete="new-password"
          value={input.clientSecret}
          onChange={(e) => set({ clientSecret: e.currentTarget.value })}
          error={fieldError(save.error, 'clientSecret')}
        />
      </div>
      <FormEnd error={save.error} fields={FIELDS} pending={save.isPending} save="Test and save" onCancel={onDone} />
    </form>
  );
}

/** The agency's own registration at each kind of service. */
export function ServicesPart({ mayChange }: PartProps) {
  const services = useGet('GET /api/services');
  const [editing, setEditing] = useState<string | null>(null);
  const remove = useChange((kind: string) => call('DELETE /api/services/:kind', { params: { kind } }));
  if (!services.data) return services.error ? <Notice error={services.error} /> : <Loading />;
  const setBy = services.data.find((s) => s.setBy)?.setBy;
  const like = services.data.find((s) => s.next === editing && editing !== null);
  const another: Service | undefined = like && {
    ...like,
    kind: like.next!,
    label: `${like.label}: another service`,
    address: null,
    clientId: '',
    hasSecret: false,
    setBy: null,
    connections: 0,
    next: null,
  };
  return (
    <div className="stack settings-form">
      <p className="muted small">
        {setBy
          ? `Set by environment variables (${setBy}); change them there.`
          : 'Register your agency with each service and enter its credentials here. They’re tested before saving.'}
      </p>
      <Notice error={remove.error} />
      <table className="list">
        <thead>
          <tr>
            <th>Service</th>
            <th>Address</th>
            <th>Registered as</th>
            <th>Connections</th>
            <th>
              <span className="reading-only">Actions</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {services.data.map((s) => (
            <tr key={s.kind}>
              <td>
                <b>{s.label}</b>
              </td>
              <td className="breaks">{s.address ?? <span className="muted">not set</span>}</td>
              <td>
                {s.clientId}
                {s.hasSecret && <span className="muted small"> with a secret</span>}
              </td>
              <td>{s.connections}</td>
              <td>
                {mayChange && s.address && s.next && (
                  <Button
                    size="compact-xs"
                    variant="subtle"
                    aria-label={`Add another: ${s.label}`}
                    onClick={() => setEditing(s.next)}
                  >
                    Add another
                  </Button>
                )}
                {mayChange && !s.setBy && (
                  <span className="row" style={{ gap: 4, flexWrap: 'nowrap', justifyContent: 'end' }}>
                    <Button
                      size="compact-xs"
                      variant="default"
                      aria-label={`${s.address ? 'Change' : 'Set'} ${s.label}`}
                      onClick={() => setEditing(s.kind)}
                    >
                      {s.address ? 'Change' : 'Set'}
                    </Button>
                    {s.address && s.connections === 0 && (
                      <Button
                        size="compact-xs"
                        variant="subtle"
                        color="red"
                        aria-label={`Remove ${s.label}`}
                        onClick={() => remove.mutate(s.kind)}
                      >
                        Remove
                      </Button>
                    )}
                  </span>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {[...services.data, ...(another ? [another] : [])]
        .filter((s) => s.kind === editing)
        .map((s) => (
          <section key={s.kind} className="card stack" aria-label={s.label}>
            <h2>{s.label}</h2>
            {s.connections > 0 && (
              <p className="muted small">{plural(s.connections, 'connection')} use it to renew access.</p>
            )}
            <ServiceForm service={s} onDone={() => setEditing(null)} />
          </section>
        ))}
    </div>
  );
}
