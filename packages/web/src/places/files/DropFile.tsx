import type { Client, ImportRow } from '@chronicon/core/contract';
import { Dropzone } from '@mantine/dropzone';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { call, upload } from '../../api/call.ts';
import { useChange } from '../../api/hooks.ts';
import { Notice } from '../../parts/Notice.tsx';

const isDescription = (file: File): boolean => file.name.toLowerCase().endsWith('.json');

/** A place to drop a table on; a description dropped with it is read, too. */
export function DropFile({ client }: { client: Client }) {
  const navigate = useNavigate();
  const [told, setTold] = useState<string | null>(null);
  const bring = useChange(async (files: File[]) => {
    const file = files.find((f) => !isDescription(f)) ?? files[0]!;
    const description = files.find((f) => f !== file && isDescription(f));
    const path = `/api/clients/${client.id}/imports?name=${encodeURIComponent(file.name)}`;
    const taken = (await upload(path, file)) as ImportRow;
    if (description) {
      const params = { client: client.id, import: taken.id };
      const body: unknown = JSON.parse(await description.text());
      await call('PUT /api/clients/:client/imports/:import/description', { params, body });
    }
    return taken;
  });
  return (
    <>
      <Dropzone
        className="drop"
        aria-label="Drop a file here or browse"
        multiple
        maxFiles={2}
        inputProps={{ 'aria-label': 'Data file' }}
        loading={bring.isPending}
        onDrop={(files) => {
          setTold(null);
          bring.mutate(files, { onSuccess: (taken) => navigate(`/clients/${client.id}/imports/${taken.id}`) });
        }}
        onReject={() => setTold('Upload one file at a time, plus its schema file if you have one.')}
      >
        <b>Drop a file here or browse</b>
        <div className="muted small">CSV, TSV, XLSX or JSON Lines, up to 1 GB</div>
      </Dropzone>
      {told && <Notice>{told}</Notice>}
      <Notice error={bring.error} />
    </>
  );
}
