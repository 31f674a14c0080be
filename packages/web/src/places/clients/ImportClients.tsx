import { Button, FileButton, Textarea } from '@mantine/core';
import { useState } from 'react';
import { Link } from 'react-router';
import { call, type Reply } from '../../api/call.ts';
import { useAct, useChange } from '../../api/hooks.ts';
import { fieldError, formError, Notice } from '../../parts/Notice.tsx';
import { PageTitle } from '../../parts/PageTitle.tsx';
import { ScrollBox } from '../../parts/ScrollBox.tsx';
import { Unsaved } from '../../parts/Unsaved.tsx';
import { plural } from '../../parts/when.ts';

type Plan = Reply<'POST /api/clients/import'>;

const SAMPLE =
  'Client, Id, Website, Time zone, Currency, Language, Tags, Manager, First name, Last name, Email, Role, Phone, Notes';

function counted(plan: Plan): string {
  const parts = [plural(plan.clients, 'new client'), plural(plan.contacts, 'new contact')];
  if (plan.changed > 0) parts.push(`${plural(plan.changed, 'client')} changed`);
  if (plan.leftOut > 0) parts.push(`${plural(plan.leftOut, 'row')} skipped`);
  return parts.join(', ');
}

/** A file's bytes as text that a request can carry. */
async function bytesOf(file: File): Promise<string> {
  const bytes = new Uint8Array(await file.arrayBuffer());
  let text = '';
  // In parts: a call takes so many arguments.
  for (let i = 0; i < bytes.length; i += 8_192) text += String.fromCharCode(...bytes.subarray(i, i + 8_192));
  return btoa(text);
}

/** Clients, contacts, tags and managers out of CSV: what each row will do is seen first. */
export function ImportClients() {
  const [text, setText] = useState('');
  const [plan, setPlan] = useState<Plan | null>(null);
  const look = useAct((of: string) => call('POST /api/clients/import', { body: { text: of } }));
  const read = useAct((bytes: string) => call('POST /api/clients/import', { body: { bytes } }));
  const bring = useChange((seen: string) => call('POST /api/clients/import', { body: { text, seen } }));
  const type = (next: string) => {
    setText(next);
    setPlan(null);
    bring.reset();
  };
  const see = (of: string) => look.mutate(of, { onSuccess: setPlan });
  const useful = plan?.rows.some((r) => r.problem === null) === true;
  return (
    <main className="place spaced">
      <div className="place-head">
        <PageTitle of={['Import clients']} />
        <h1>Import clients</h1>
        <span className="muted small">Includes contacts, tags and managers. You’ll see a preview first.</span>
      </div>
      <Unsaved when={text !== '' && !bring.isSuccess && !bring.isPending} what="the rows" />
      {bring.data ? (
        <section className="card stack">
          <h2>Done</h2>
          <p role="status">{counted(bring.data)}.</p>
          <div className="row">
            <Button component={Link} to="/clients">
              View clients
            </Button>
            <Button variant="subtle" onClick={() => type('')}>
              Import more
            </Button>
          </div>
        </section>
      ) : (
        <section className="card stack">
          <Textarea
            label="Rows"
            description={`CSV with column headings: ${SAMPLE}. Only Client is required; one row per contact.`}
            autosize
            minRows={plan ? 3 : 8}
            maxRows={14}
            value={text}
            onChange={(e) => type(e.currentTarget.value)}
            error={fieldError(look.error, 'text')}
            styles={{ input: { fontFamily: 'monospace', fontSize: 13 } }}
          />
          <Notice error={formError(look.error, ['text']) ?? read.error} />
          <div className="row">
            <Button
              variant={plan ? 'default' : 'filled'}
              loading={look.isPending}
              disabled={text.trim() === ''}
              onClick={() => see(text)}
            >
              Preview
            </Button>
            <FileButton
              accept=".csv,.txt,text/csv"
              onChange={async (file) => {
                if (!file) return;
                type('');
                read.mutate(await bytesOf(file), {
                  onSuccess: (found) => {
                    setText(found.text);
                    setPlan(found);
                  },
                });
              }}
            >
              {(props) => (
                <Button {...props} variant="subtle">
                  Choose a file
                </Button>
              )}
            </FileButton>
          </div>
        </section>
      )}
      {plan && !bring.data && (
        <section className="card stack" aria-label="What each row does">
          <h2>{counted(plan)}</h2>
          {plan.encoding !== null && plan.encoding !== 'UTF-8' && (
            <p className="note small">Not UTF-8; read as {plan.encoding}. Check that names look right.</p>
          )}
          {plan.unread.length > 0 && <p className="note small">Skipped (not recognised): {plan.unread.join(', ')}.</p>}
          <ScrollBox label="What each row does" short>
            <table className="list">
              <thead>
                <tr>
                  <th>Row</th>
                  <th>Client</th>
                  <th>What it does</th>
                </tr>
              </thead>
              <tbody>
                {plan.rows.map((r) => (
                  <tr key={r.line}>
                    <td>{r.line}</td>
                    <td>{r.client || '–'}</td>
                    <td>
                      {r.problem === null ? (
                        r.does.join(' ')
                      ) : (
                        <span className="tone-wrong">■ Skipped. {r.problem}</span>
                      )}
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
          </ScrollBox>
          <Notice error={bring.error} />
          <div className="row">
            <Button disabled={!useful} loading={bring.isPending} onClick={() => bring.mutate(plan.seen)}>
              {!useful
                ? 'No row can be imported'
                : plan.leftOut > 0
                  ? `Import all except ${plural(plan.leftOut, 'row')}`
                  : 'Import'}
            </Button>
          </div>
        </section>
      )}
    </main>
  );
}
