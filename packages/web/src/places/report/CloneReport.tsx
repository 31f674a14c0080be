import { Button, Checkbox, Stack, TextInput } from '@mantine/core';
import { useState } from 'react';
import { Link } from 'react-router';
import { call } from '../../api/call.ts';
import { useChange } from '../../api/hooks.ts';
import { Notice } from '../../parts/Notice.tsx';
import { useClientNames } from '../../parts/useClientNames.ts';
import { plural } from '../../parts/when.ts';
import { type ActProps, settleFirst } from './settleFirst.ts';
import { TypedTexts } from './TypedTexts.tsx';

/** The same report for other clients, as drafts. */
export function CloneReport({ report, client, settle }: ActProps) {
  const [chosen, setChosen] = useState<string[]>([]);
  const [texts, setTexts] = useState<string[]>([]);
  const names = useClientNames({ ids: chosen });
  const clone = useChange(async () => {
    await settleFirst(settle);
    return call('POST /api/reports/:report/clone', { params: { report: report.id }, body: { clients: chosen, texts } });
  });
  const others = names.clients.filter((c) => c.id !== client.id);
  const nameOf = (id: string) => others.find((c) => c.id === id)?.name ?? '';
  if (clone.data) {
    return (
      <ul className="plain stack">
        {clone.data.made.map((m) => (
          <li key={m.report}>
            <Link to={`/reports/${m.report}`}>{nameOf(m.client)}</Link>
            {m.missing.length > 0 && <div className="small muted">No feed provides {m.missing.join(', ')} yet.</div>}
          </li>
        ))}
      </ul>
    );
  }
  return (
    <form
      className="stack"
      onSubmit={(e) => {
        e.preventDefault();
        clone.mutate();
      }}
    >
      <span className="muted small">Created as drafts. Release each one before it’s sent.</span>
      {(names.hasMore || names.text !== '') && (
        <TextInput label="Find a client" value={names.text} onChange={(e) => names.setText(e.currentTarget.value)} />
      )}
      <Checkbox.Group value={chosen} onChange={setChosen} aria-label="Clients">
        <Stack gap={6} className="long-list">
          {others.map((c) => (
            <Checkbox key={c.id} value={c.id} label={c.name} />
          ))}
        </Stack>
      </Checkbox.Group>
      <TypedTexts settle={settle} report={report} clientName={client.name} chosen={texts} onChoose={setTexts} />
      <Notice error={clone.error} />
      <div>
        <Button type="submit" loading={clone.isPending} disabled={chosen.length === 0}>
          Copy to {plural(chosen.length, 'client')}
        </Button>
      </div>
    </form>
  );
}
