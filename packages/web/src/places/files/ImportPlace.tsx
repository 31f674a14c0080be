import type { Client, ImportDetail } from '@chronicon/core/contract';
import { ENCODING_LABELS, ENCODINGS, SEPARATOR_LABELS, SEPARATORS } from '@chronicon/core/contract/fileStyles';
import { NativeSelect } from '@mantine/core';
import { useState } from 'react';
import { useParams } from 'react-router';
import { call } from '../../api/call.ts';
import { useChange, useGet } from '../../api/hooks.ts';
import { Loading } from '../../parts/Loading.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { PageTitle } from '../../parts/PageTitle.tsx';
import { ImportState } from './Imports.tsx';
import { Mapper } from './Mapper.tsx';
import { Outcome } from './Outcome.tsx';

const sizeOf = (bytes: number) =>
  bytes < 1_000_000 ? `${Math.max(1, Math.round(bytes / 1000))} kB` : `${Math.round(bytes / 100_000) / 10} MB`;

/** How the file is written: what was found out, and can be told otherwise. */
function HowWritten({ client, file }: { client: Client; file: ImportDetail }) {
  const { reading } = file;
  const look = useChange((change: Partial<typeof reading>) =>
    call('POST /api/clients/:client/imports/:import/look', {
      params: { client: client.id, import: file.id },
      body: { ...reading, ...change },
    }),
  );
  if (reading.format === 'jsonl') return null;
  return (
    <div className="row">
      {reading.format === 'text' && (
        <>
          <NativeSelect
            label="Encoding"
            data={ENCODINGS.map((value) => ({ value, label: ENCODING_LABELS[value] }))}
            value={reading.encoding}
            disabled={look.isPending}
            onChange={(e) => look.mutate({ encoding: e.currentTarget.value as typeof reading.encoding })}
          />
          <NativeSelect
            label="Separator"
            data={SEPARATORS.map((value) => ({ value, label: SEPARATOR_LABELS[value] }))}
            value={reading.separator}
            disabled={look.isPending}
            onChange={(e) => look.mutate({ separator: e.currentTarget.value as typeof reading.separator })}
          />
        </>
      )}
      {reading.format === 'xlsx' && (
        <NativeSelect
          label="Sheet"
          data={reading.sheets}
          value={reading.sheet ?? ''}
          disabled={look.isPending}
          onChange={(e) => look.mutate({ sheet: e.currentTarget.value })}
        />
      )}
      <Notice error={look.error} />
    </div>
  );
}

/** A file on its way into the figures: how it is read, what its columns are, what came of it. */
export function ImportPlace() {
  const { client: clientId = '', import: id = '' } = useParams();
  const client = useGet('GET /api/clients/:client', { params: { client: clientId } });
  const moving = (state: string | undefined) => state === 'looking' || state === 'importing';
  const [watch, setWatch] = useState(true);
  const file = useGet(
    'GET /api/clients/:client/imports/:import',
    { params: { client: clientId, import: id } },
    { refetchInterval: watch ? 500 : false },
  );
  if (file.data && watch !== moving(file.data.state)) setWatch(moving(file.data.state));
  if (file.error || client.error) {
    return (
      <main className="place">
        <Notice error={file.error ?? client.error} />
      </main>
    );
  }
  return (
    <main className="place">
      <div className="place-head">
        <PageTitle of={[file.data?.fileName, client.data?.name]} />
        <h1>{file.data?.fileName ?? ' '}</h1>
        {file.data && (
          <span className="muted small">
            {client.data?.name} · {sizeOf(file.data.bytes)}
          </span>
        )}
        {file.data && <ImportState of={file.data} />}
      </div>
      {!file.data || !client.data ? (
        <Loading />
      ) : file.data.state === 'asking' && file.data.inspection ? (
        <div className="stack">
          <HowWritten client={client.data} file={file.data} />
          <Mapper
            // Looked at in another way, everything is asked anew.
            key={JSON.stringify(file.data.reading)}
            client={client.data}
            file={file.data}
            found={file.data.inspection}
          />
        </div>
      ) : file.data.state === 'looking' ? (
        <Loading />
      ) : (
        <Outcome client={client.data} file={file.data} />
      )}
    </main>
  );
}
