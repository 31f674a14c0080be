import type { Client } from '@chronicon/core/contract';
import { Button, FileButton } from '@mantine/core';
import { type ApiError, upload } from '../../api/call.ts';
import { useAct } from '../../api/hooks.ts';
import { fieldError, formError, Notice } from '../../parts/Notice.tsx';
import type { Mail } from './mailParts.ts';

const sizeWords = (bytes: number): string =>
  bytes < 1024 * 1024 ? `${Math.max(1, Math.round(bytes / 1024))} kB` : `${(bytes / 1024 / 1024).toFixed(1)} MB`;

/** Files that go with every mail beside the report. */
export function MailFiles({
  client,
  files,
  error,
  onChange,
}: {
  client: Client;
  files: Mail['files'];
  error: ApiError | null;
  onChange: (files: Mail['files']) => void;
}) {
  const bring = useAct((file: File) =>
    upload(`/api/clients/${client.id}/mail-files?name=${encodeURIComponent(file.name)}`, file),
  );
  return (
    <div className="stack tight">
      {files.map((f) => (
        <div key={f.file} className="row small">
          {f.name} <span className="muted">{sizeWords(f.size)}</span>
          <Button
            size="compact-xs"
            variant="subtle"
            color="red"
            aria-label={`Remove ${f.name}`}
            onClick={() => onChange(files.filter((x) => x.file !== f.file))}
          >
            Remove
          </Button>
        </div>
      ))}
      <div className="row">
        <FileButton
          onChange={(file) =>
            file &&
            bring.mutate(file, {
              onSuccess: (kept) => {
                const made = kept as Mail['files'][number];
                onChange([...files.filter((f) => f.file !== made.file), made]);
              },
            })
          }
        >
          {(props) => (
            <Button {...props} size="compact-sm" variant="default" loading={bring.isPending}>
              Add a file
            </Button>
          )}
        </FileButton>
        <span className="muted small">Attached to every email, e.g. a price list.</span>
      </div>
      {fieldError(bring.error, 'file') && <span className="tone-wrong small">{fieldError(bring.error, 'file')}</span>}
      {fieldError(error, 'mail.files') && <span className="tone-wrong small">{fieldError(error, 'mail.files')}</span>}
      <Notice error={formError(bring.error, ['file'])} />
    </div>
  );
}
