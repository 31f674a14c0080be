import { Button, FileButton } from '@mantine/core';
import { ApiError, upload } from '../../api/call.ts';
import { useChange } from '../../api/hooks.ts';
import { Notice } from '../../parts/Notice.tsx';
import type { Block } from './block.ts';

type Picture = NonNullable<Extract<Block, { kind: 'picture' }>['picture']>;

interface Props {
  client: string;
  label: string;
  value: Picture | undefined;
  onChange: (picture: Picture | undefined) => void;
}

const LIMIT = 5 * 1024 * 1024;

/** A picture to bring: it is looked at by the server before it stands on the page. */
export function PictureField({ client, label, value, onChange }: Props) {
  const send = useChange(async (file: File) => {
    // Told before it is sent: the server would say the same after five megabytes.
    if (file.size > LIMIT) throw new ApiError(413, 'The file is larger than 5 MB.', {});
    return (await upload(`/api/clients/${client}/pictures`, file)) as Picture;
  });
  const take = (file: File | null) => file && send.mutate(file, { onSuccess: (picture) => onChange(picture) });
  return (
    <div className="stack">
      <b>{label}</b>
      <span className="muted small">
        {value ? `${Math.round(value.width)} × ${Math.round(value.height)}` : 'None yet: nothing is shown.'}
      </span>
      <div className="row">
        <FileButton onChange={take} accept=".svg,.png,.jpg,.jpeg,image/*">
          {(props) => (
            <Button {...props} variant="outline" size="compact-sm" loading={send.isPending}>
              {value ? 'Choose another file' : 'Choose a file'}
            </Button>
          )}
        </FileButton>
        {value && (
          <Button variant="subtle" color="red" size="compact-sm" onClick={() => onChange(undefined)}>
            Remove
          </Button>
        )}
      </div>
      <span className="muted small">SVG, PNG or JPEG, up to 5 MB</span>
      <Notice error={send.error} />
    </div>
  );
}
