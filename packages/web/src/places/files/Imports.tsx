import type { Client, ImportRow } from '@chronicon/core/contract';
import { Button } from '@mantine/core';
import { Link } from 'react-router';
import { call } from '../../api/call.ts';
import { useChange, useGet } from '../../api/hooks.ts';
import { Notice } from '../../parts/Notice.tsx';
import { momentOf, plainDate } from '../../parts/when.ts';

const count = (n: number) => n.toLocaleString('en-GB');

/** Where a file is on its way. */
export function ImportState({ of: i }: { of: ImportRow }) {
  switch (i.state) {
    case 'looking':
      return <span className="tone-accent">◌ checking</span>;
    case 'asking':
      return <span className="tone-attention">■ needs review</span>;
    case 'importing':
      return <span className="tone-accent">◌ {Math.round(i.progress * 100)}%</span>;
    case 'done':
      return <span className="tone-good">● imported</span>;
    case 'refused':
      return <span className="tone-wrong">■ not imported</span>;
    case 'cancelled':
      return <span className="muted">□ stopped</span>;
    case 'undone':
      return <span className="muted">□ undone</span>;
  }
}

export function Rejects({ client, of: i }: { client: Client; of: ImportRow }) {
  if (!i.hasRejects) return null;
  return <a href={`/api/clients/${client.id}/imports/${i.id}/rejects`}>{count(i.bad)} skipped</a>;
}

function Line({ client, row }: { client: Client; row: ImportRow }) {
  const params = { client: client.id, import: row.id };
  const undo = useChange(() => call('POST /api/clients/:client/imports/:import/undo', { params }));
  const discard = useChange(() => call('DELETE /api/clients/:client/imports/:import', { params }));
  return (
    <tr>
      <td>
        <Link className="name-link" to={`/clients/${client.id}/imports/${row.id}`}>
          {row.fileName}
        </Link>
        <div className="muted small">
          {momentOf(row.at)}
          {row.madeBy ? `, ${row.madeBy}` : row.source === 'folder' ? ', from the folder' : ', uploaded to the URL'}
        </div>
        <Notice error={undo.error ?? discard.error} />
      </td>
      <td>
        <ImportState of={row} />
        {row.problem && <div className="muted small">{row.problem}</div>}
      </td>
      <td>{row.range ? `${plainDate(row.range.from)} to ${plainDate(row.range.to)}` : '–'}</td>
      <td className="num">{row.good > 0 ? count(row.good) : '–'}</td>
      <td>
        <Rejects client={client} of={row} />
      </td>
      <td style={{ textAlign: 'right', whiteSpace: 'nowrap' }}>
        {row.canUndo && (
          <Button
            size="compact-sm"
            variant="subtle"
            loading={undo.isPending}
            aria-label={`Undo import of ${row.fileName}`}
            onClick={() => undo.mutate()}
          >
            Undo
          </Button>
        )}
        {['asking', 'refused', 'cancelled'].includes(row.state) && (
          <Button
            size="compact-sm"
            variant="subtle"
            loading={discard.isPending}
            aria-label={`Dismiss ${row.fileName}`}
            onClick={() => discard.mutate()}
          >
            Dismiss
          </Button>
        )}
      </td>
    </tr>
  );
}

/** The files that were brought for a client. */
export function Imports({ client }: { client: Client }) {
  const all = useGet('GET /api/clients/:client/imports', { params: { client: client.id } }, { refetchInterval: 2_000 });
  if (!all.data || all.data.length === 0) return null;
  return (
    <section className="stack" aria-label="Files">
      <h2 style={{ margin: '6px 0 0' }}>Files</h2>
      <table className="list">
        <thead>
          <tr>
            <th>File</th>
            <th>State</th>
            <th>Days</th>
            <th className="num">Rows</th>
            <th>Errors</th>
            <th />
          </tr>
        </thead>
        <tbody>
          {all.data.map((row) => (
            <Line key={row.id} client={client} row={row} />
          ))}
        </tbody>
      </table>
    </section>
  );
}
