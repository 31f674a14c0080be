import type { Client } from '@chronicon/core/contract';
import { Button, Textarea } from '@mantine/core';
import { useState } from 'react';
import { call, type Reply } from '../../api/call.ts';
import { useAct, useChange } from '../../api/hooks.ts';
import { fieldError, formError, Notice } from '../../parts/Notice.tsx';
import { Unsaved } from '../../parts/Unsaved.tsx';
import { plural } from '../../parts/when.ts';

type Seen = Reply<'POST /api/clients/:client/contacts/many'>;

/** Names and addresses as mail programs and tables give them: who would be added is seen first. */
export function PasteContacts({ client, onDone }: { client: Client; onDone: () => void }) {
  const params = { client: client.id };
  const [text, setText] = useState('');
  const [seen, setSeen] = useState<Seen | null>(null);
  const look = useAct(() => call('POST /api/clients/:client/contacts/many', { params, body: { text } }));
  const add = useChange((as: string) =>
    call('POST /api/clients/:client/contacts/many', { params, body: { text, seen: as } }),
  );
  const good = seen?.rows.filter((r) => r.problem === null).length ?? 0;
  return (
    <section className="card stack" style={{ maxWidth: 640 }} aria-label="Paste contacts">
      <h2>Paste several contacts</h2>
      <Unsaved when={text !== '' && !add.isPending && !add.isSuccess} what="what you pasted" />
      <Textarea
        label="Names and addresses"
        description="One per line, or pasted from your email app: Name <name@place.example>, …"
        autosize
        minRows={4}
        maxRows={12}
        value={text}
        onChange={(e) => {
          setText(e.currentTarget.value);
          setSeen(null);
        }}
        error={fieldError(look.error, 'text')}
      />
      {seen && (
        <ul className="plain">
          {seen.rows.map((r, i) => (
            <li key={i} className={r.problem ? 'muted' : ''}>
              {r.problem ? '–' : '+'} {`${r.firstName} ${r.lastName}`.trim()}, {r.email}
              {r.problem && <span className="small"> · skipped: {r.problem}</span>}
            </li>
          ))}
        </ul>
      )}
      <Notice error={formError(look.error, ['text']) ?? add.error} />
      <div className="row">
        {seen ? (
          <Button
            disabled={good === 0}
            loading={add.isPending}
            onClick={() => add.mutate(seen.seen, { onSuccess: onDone })}
          >
            Add {plural(good, 'contact')}
          </Button>
        ) : (
          <Button
            disabled={text.trim() === ''}
            loading={look.isPending}
            onClick={() => look.mutate(undefined, { onSuccess: setSeen })}
          >
            Preview
          </Button>
        )}
        <Button variant="subtle" onClick={onDone}>
          Cancel
        </Button>
      </div>
    </section>
  );
}
