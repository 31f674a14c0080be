import type { Client, Contact } from '@chronicon/core/contract';
import { Button, NativeSelect, Textarea, TextInput } from '@mantine/core';
import { type FormEvent, useState } from 'react';
import { Link } from 'react-router';
import { call } from '../../api/call.ts';
import { useChange } from '../../api/hooks.ts';
import { DateField } from '../../parts/DateField.tsx';
import { fieldError, formError, Notice } from '../../parts/Notice.tsx';
import { Unsaved } from '../../parts/Unsaved.tsx';
import { plainDate } from '../../parts/when.ts';
import { Lists } from './Lists.tsx';
import { PasteContacts } from './PasteContacts.tsx';

type Typed = Omit<Contact, 'id' | 'approved' | 'stopped'>;
const EMPTY: Typed = {
  firstName: '',
  lastName: '',
  email: '',
  role: '',
  language: '',
  phone: '',
  notes: '',
  consent: null,
  mailLine: 'to',
  standing: 'reads',
};
const LINES = [
  { value: 'to', label: 'To' },
  { value: 'cc', label: 'Cc' },
  { value: 'bcc', label: 'Bcc' },
];
const STANDINGS = [
  { value: 'reads', label: 'active' },
  { value: 'left', label: 'left' },
  { value: 'bounced', label: 'bounced' },
  { value: 'declined', label: 'unsubscribed' },
];

const typedOf = ({ id: _, approved: __, stopped: ___, ...typed }: Contact): Typed => typed;

function ContactForm({ client, contact, onDone }: { client: Client; contact: Contact | null; onDone: () => void }) {
  const before = contact ? typedOf(contact) : EMPTY;
  const [input, setInput] = useState(before);
  const set = (patch: Partial<Typed>) => setInput((i) => ({ ...i, ...patch }));
  const save = useChange((outside?: 'address' | 'domain') => {
    const body = { ...input, ...(outside && { outside }) };
    return contact
      ? call('PUT /api/clients/:client/contacts/:contact', { params: { client: client.id, contact: contact.id }, body })
      : call('POST /api/clients/:client/contacts', { params: { client: client.id }, body });
  });
  const changed = JSON.stringify(input) !== JSON.stringify(before);
  const keep = (outside?: 'address' | 'domain') =>
    save.mutate(outside, {
      onSuccess: () => {
        setInput(EMPTY);
        onDone();
      },
    });
  const submit = (e: FormEvent) => {
    e.preventDefault();
    keep();
  };
  const asked = fieldError(save.error, 'outside');
  const field = (
    key: 'firstName' | 'lastName' | 'email' | 'role' | 'phone' | 'language',
    label: string,
    type = 'text',
  ) => (
    <TextInput
      label={label}
      type={type}
      value={input[key]}
      onChange={(e) => {
        const typed = e.currentTarget.value;
        // An address that is corrected is another one: nothing has come back from it.
        const isCorrected = key === 'email' && before.standing === 'bounced' && typed.trim() !== before.email;
        set({ [key]: typed, ...(isCorrected && { standing: 'reads' }) });
      }}
      error={fieldError(save.error, key)}
    />
  );
  return (
    <form className="card stack" onSubmit={submit} style={{ maxWidth: 560 }} noValidate>
      <Unsaved when={changed && !save.isPending} what="your changes to this contact" />
      <h2>{contact ? `Change ${contact.firstName} ${contact.lastName}` : 'New contact'}</h2>
      <div className="row" style={{ alignItems: 'start' }}>
        {field('firstName', 'First name')}
        {field('lastName', 'Last name')}
      </div>
      {field('email', 'Email address', 'email')}
      {asked && (
        <div className="note small stack" role="alert">
          <span>{asked}</span>
          <div className="row">
            <Button size="compact-sm" variant="outline" onClick={() => keep('address')}>
              Allow this address
            </Button>
            <Button size="compact-sm" variant="outline" onClick={() => keep('domain')}>
              Allow everyone at {input.email.split('@').at(-1)}
            </Button>
          </div>
        </div>
      )}
      <div className="row" style={{ alignItems: 'start' }}>
        {field('role', 'Role')}
        {field('phone', 'Phone', 'tel')}
        {field('language', 'Language')}
      </div>
      <div className="row" style={{ alignItems: 'start' }}>
        <DateField
          label="Consent given on"
          description="Optional"
          value={input.consent?.on ?? ''}
          error={fieldError(save.error, 'consent.on')}
          onChange={(on) => {
            set({ consent: on ? { by: '', ...input.consent, on } : null });
          }}
          optional
        />
        <TextInput
          label="Consent source"
          description="Who confirmed it, and how"
          disabled={input.consent === null}
          value={input.consent?.by ?? ''}
          error={fieldError(save.error, 'consent.by')}
          onChange={(e) => {
            const by = e.currentTarget.value;
            if (input.consent) set({ consent: { ...input.consent, by } });
          }}
        />
      </div>
      <div className="row" style={{ alignItems: 'start' }}>
        <NativeSelect
          label="In group emails"
          data={LINES}
          value={input.mailLine}
          onChange={(e) => set({ mailLine: e.currentTarget.value as Typed['mailLine'] })}
        />
        <NativeSelect
          label="This person"
          data={STANDINGS}
          value={input.standing}
          onChange={(e) => set({ standing: e.currentTarget.value as Typed['standing'] })}
        />
      </div>
      <Textarea
        label="Notes"
        description="Internal only"
        autosize
        minRows={1}
        value={input.notes}
        onChange={(e) => set({ notes: e.currentTarget.value })}
        error={fieldError(save.error, 'notes')}
      />
      <Notice error={formError(save.error, [...Object.keys(EMPTY), 'consent.on', 'consent.by', 'outside'])} />
      <div className="row">
        <Button type="submit" loading={save.isPending}>
          {contact ? 'Save' : 'Add contact'}
        </Button>
        {contact && (
          <Button variant="default" onClick={onDone}>
            Discard changes
          </Button>
        )}
      </div>
    </form>
  );
}

/** Who may get this client's editions: nobody else ever does. */
export function Contacts({ client }: { client: Client }) {
  const [editing, setEditing] = useState<Contact | null>(null);
  const [pasting, setPasting] = useState(false);
  const remove = useChange((c: Contact) =>
    call('DELETE /api/clients/:client/contacts/:contact', { params: { client: client.id, contact: c.id } }),
  );
  return (
    <div className="stack">
      <Notice error={remove.error} />
      {client.contacts.length > 0 ? (
        <table className="list">
          <thead>
            <tr>
              <th>Name</th>
              <th>Email address</th>
              <th>Consent</th>
              <th>Phone</th>
              <th />
            </tr>
          </thead>
          <tbody>
            {client.contacts.map((c) => (
              <tr key={c.id}>
                <td>
                  <b>
                    {c.firstName} {c.lastName}
                  </b>
                  {c.role && <span className="muted small"> · {c.role}</span>}
                  {c.notes && <div className="muted small">{c.notes}</div>}
                  {c.stopped && <div className="tone-attention small">■ {c.stopped}</div>}
                </td>
                <td>{c.email}</td>
                <td>
                  {c.consent ? (
                    <>
                      <span className="tone-good">●</span> since {plainDate(c.consent.on)}
                      {c.consent.by && <div className="muted small">{c.consent.by}</div>}
                    </>
                  ) : (
                    <span className="muted">none</span>
                  )}
                </td>
                <td>
                  {c.phone}
                  {c.language && <div className="muted small">speaks {c.language}</div>}
                </td>
                <td style={{ textAlign: 'right' }}>
                  <Button
                    variant="subtle"
                    size="compact-sm"
                    onClick={() => setEditing(c)}
                    aria-label={`Change ${c.firstName}`}
                  >
                    Change
                  </Button>
                  <Button
                    component={Link}
                    to={`/almanac/readers?person=${encodeURIComponent(c.email)}`}
                    variant="subtle"
                    size="compact-sm"
                    aria-label={`Replace ${c.firstName}`}
                  >
                    Replace
                  </Button>
                  <Button
                    variant="subtle"
                    color="red"
                    size="compact-sm"
                    onClick={() => remove.mutate(c)}
                    aria-label={`Remove ${c.firstName}`}
                  >
                    Remove
                  </Button>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      ) : (
        <p className="muted">Contacts are the people who receive {client.name}’s reports. Add the first one.</p>
      )}
      {pasting ? (
        <PasteContacts client={client} onDone={() => setPasting(false)} />
      ) : (
        <>
          <ContactForm key={editing?.id ?? 'new'} client={client} contact={editing} onDone={() => setEditing(null)} />
          {!editing && (
            <div>
              <Button variant="subtle" onClick={() => setPasting(true)}>
                Paste several
              </Button>
            </div>
          )}
        </>
      )}
      <Lists client={client} />
    </div>
  );
}
