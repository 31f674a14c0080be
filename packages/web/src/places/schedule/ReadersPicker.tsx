import type { Client } from '@chronicon/core/contract';
import { Checkbox, Input, NativeSelect, Stack } from '@mantine/core';
import { type Colleague, keyOf, type Reader, readerName } from './readersText.ts';

const LINES = [
  { value: '', label: 'as usual' },
  { value: 'to', label: 'To' },
  { value: 'cc', label: 'Cc' },
  { value: 'bcc', label: 'Bcc' },
];

interface Props {
  client: Client;
  colleagues: readonly Colleague[];
  readers: readonly Reader[];
  /** One mail is for all of them: each stands in a line of it. */
  lines: boolean;
  error?: string | undefined;
  onChange: (readers: Reader[]) => void;
}

/** Contacts, lists and members to tick. Who may not be written to is said, and not to be ticked anew. */
export function ReadersPicker({ client, colleagues, readers, lines, error, onChange }: Props) {
  const chosen = new Map(readers.map((r) => [keyOf(r), r]));
  const toggle = (r: Reader) =>
    onChange(chosen.has(keyOf(r)) ? readers.filter((x) => keyOf(x) !== keyOf(r)) : [...readers, r]);
  const one = (r: Reader, about: string, stopped: string | null = null) => {
    const key = keyOf(r);
    const name = readerName(client, colleagues, r);
    const now = chosen.get(key);
    return (
      <div key={key} className="reader">
        <Checkbox
          checked={now !== undefined}
          disabled={stopped !== null && now === undefined}
          onChange={() => toggle(r)}
          label={name}
          description={stopped ?? about}
        />
        {lines && now && (
          <NativeSelect
            size="xs"
            aria-label={`Line of ${name}`}
            data={LINES}
            value={now.as ?? ''}
            onChange={(e) => {
              const as = e.currentTarget.value as '' | 'to' | 'cc' | 'bcc';
              const { as: _, ...rest } = now;
              const next = (as === '' ? rest : { ...rest, as }) as Reader;
              onChange(readers.map((x) => (keyOf(x) === key ? next : x)));
            }}
          />
        )}
      </div>
    );
  };
  const gone = readers.filter((r) => 'contact' in r && !client.contacts.some((c) => c.id === r.contact));
  return (
    <Input.Wrapper label={`Contacts of ${client.name}`} labelElement="div" error={error}>
      <Stack gap={7} mt={6} className="readers">
        {client.contacts.map((c) =>
          one(
            { contact: c.id },
            c.email,
            // An address that nobody has approved may be chosen: it is asked about before anything goes.
            c.standing === 'reads' ? null : c.stopped,
          ),
        )}
        {gone.map((r) => one(r, 'No longer a contact: receives nothing'))}
        {client.contacts.length === 0 && <span className="muted">No contacts yet. Add one on the client’s page.</span>}
        {client.lists.length > 0 && <b className="small">Lists</b>}
        {client.lists.map((l) => one({ list: l.id }, `${l.contacts.length} of them`))}
        {colleagues.length > 0 && <b className="small">Of the agency</b>}
        {colleagues.map((m) => one({ member: m.id }, 'a member'))}
      </Stack>
    </Input.Wrapper>
  );
}
