import type { Client, Contact } from '@chronicon/core/contract';
import { Button, Textarea, TextInput } from '@mantine/core';
import { type FormEvent, useState } from 'react';
import { call } from '../../api/call.ts';
import { useChange } from '../../api/hooks.ts';
import { fieldError, formError, Notice } from '../../parts/Notice.tsx';
import { Unsaved } from '../../parts/Unsaved.tsx';
import { PasteContacts } from './PasteContacts.tsx';

const EMPTY = { firstName: '', lastName: '', email: '', role: '', language: '', phone: '', notes: '' };

function ContactForm({ client, contact, onDone }: { client: Client; contact: Contact | null; onDone: () => void }) {
  const [input, setInput] = useState(contact ?? EMPTY);
  const save = useChange(() => {
    const { firstName, lastName, email, role, language, phone, notes } = input;
    const body = { firstName, lastName, email, role, language, phone, notes };
    return contact
      ? call('PUT /api/clients/:client/contacts/:contact', { params: { client: client.id, contact: contact.id }, body })
      : call('POST /api/clients/:client/contacts', { params: { client: client.id }, body });
  });
  const changed = JSON.stringify(input) !== JSON.stringify(contact ?? EMPTY);
  const submit = (e: FormEvent) => {
    e.preventDefault();
    save.mutate(undefined, {
      onSuccess: () => {
        setInput(EMPTY);
        onDone();
      },
    });
  };
  const field = (key: keyof typeof EMPTY, label: string, type = 'text') => (
    <TextInput
      label={label}
      type={type}
      value={input[key]}
      onChange={(e) => {
        const { value } = e.currentTarget;
        setInput((i) => ({ ...i, [key]: value }));
      }}
      error={fieldError(save.error, key)}
    />
  );
  return (
    <form className="card stack" onSubmit={submit} style={{ maxWidth: 520 }} noValidate>
      <Unsaved when={changed && !save.isPending} what="what you typed of this contact" />
      <h2>{contact ? `Change ${contact.firstName} ${contact.lastName}` : 'New contact'}</h2>
      <div className="row" style={{ alignItems: 'start' }}>
        {field('firstName', 'First name')}
        {field('lastName', 'Last name')}
      </div>
      {field('email', 'Email address', 'email')}
      <div className="row" style={{ alignItems: 'start' }}>
        {field('role', 'Role')}
        {field('phone', 'Phone', 'tel')}
        {field('language', 'Speaks')}
      </div>
      <Textarea
        label="Notes"
        description="For your agency alone"
        autosize
        minRows={1}
        value={input.notes}
        onChange={(e) => {
          const { value } = e.currentTarget;
          setInput((i) => ({ ...i, notes: value }));
        }}
        error={fieldError(save.error, 'notes')}
      />
      <Notice error={formError(save.error, Object.keys(EMPTY))} />
      <div className="row">
        <Button type="submit" loading={save.isPending}>
          {contact ? 'Save' : 'Add this contact'}
        </Button>
        {contact && (
          <Button variant="default" onClick={onDone}>
            Leave as it was
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
                </td>
                <td>{c.email}</td>
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
        <p className="muted">
          Contacts are the people at {client.name} who may receive its reports. Add the first one.
        </p>
      )}
      {pasting ? (
        <PasteContacts client={client} onDone={() => setPasting(false)} />
      ) : (
        <>
          <ContactForm key={editing?.id ?? 'new'} client={client} contact={editing} onDone={() => setEditing(null)} />
          {!editing && (
            <div>
              <Button variant="subtle" onClick={() => setPasting(true)}>
                Paste many at once
              </Button>
            </div>
          )}
        </>
      )}
    </div>
  );
}
