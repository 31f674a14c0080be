import type { BroughtRow } from '@chronicon/core/contract';
import { PICTURE } from '@chronicon/core/contract';
import { Button, FileButton } from '@mantine/core';
import { useEffect } from 'react';
import { ApiError, call, upload } from '../../api/call.ts';
import { useChange, useGet } from '../../api/hooks.ts';
import { Notice } from '../../parts/Notice.tsx';
import { fetchFaces } from '../../parts/ownFaces.ts';

const FILES = '.ttf,.otf,.woff2';

/** Sends a file as a typeface, or as the bold one of another. */
function useBring(of?: string) {
  return useChange((file: File) => {
    // Told before it is sent: the server would say the same after five megabytes.
    const large = 'The file is larger than 5 MB.';
    if (file.size > PICTURE.bytes) return Promise.reject(new ApiError(413, large, {}));
    const query = new URLSearchParams(of === undefined ? { name: file.name } : { as: 'bold', of });
    return upload(`/api/typefaces?${query}`, file);
  });
}

function Row({ typeface }: { typeface: BroughtRow }) {
  const { id, name, regular, bold, said, usedBy } = typeface;
  const bring = useBring(id);
  const remove = useChange(() => call('DELETE /api/typefaces/:typeface', { params: { typeface: id } }));
  useEffect(() => fetchFaces([`own-${regular}`]), [regular]);
  return (
    <li className="stack tight">
      <div className="row">
        <span style={{ fontFamily: `'own-${regular}'`, fontSize: 18 }}>{name}</span>
        <span className="muted small">
          {bold ? 'regular and bold' : 'no bold file: the regular weight is used for both'}
        </span>
      </div>
      {said.map((s) => (
        <span key={s} className="small tone-attention">
          {s}
        </span>
      ))}
      <div className="row">
        <FileButton onChange={(file) => file && bring.mutate(file)} accept={FILES}>
          {(props) => (
            <Button
              {...props}
              size="compact-sm"
              variant="outline"
              loading={bring.isPending}
              aria-label={`Upload the bold file of ${name}`}
            >
              {bold ? 'Replace bold' : 'Upload bold'}
            </Button>
          )}
        </FileButton>
        {usedBy.length === 0 ? (
          <Button
            size="compact-sm"
            variant="subtle"
            color="red"
            loading={remove.isPending}
            aria-label={`Remove ${name}`}
            onClick={() => remove.mutate()}
          >
            Remove
          </Button>
        ) : (
          <span className="muted small">Used by {usedBy.join(', ')}</span>
        )}
      </div>
      <Notice error={bring.error ?? remove.error} />
    </li>
  );
}

/** Typefaces that the agency brought: for every kit that it makes. */
export function BroughtTypefaces() {
  const brought = useGet('GET /api/typefaces');
  const bring = useBring();
  return (
    <section className="card stack" aria-label="Uploaded fonts">
      <h2>Uploaded fonts</h2>
      <ul className="plain stack">
        {(brought.data ?? []).map((t) => (
          <Row key={t.id} typeface={t} />
        ))}
      </ul>
      {brought.data?.length === 0 && <span className="muted small">No uploads yet. Eight fonts are built in.</span>}
      <div className="row">
        <FileButton onChange={(file) => file && bring.mutate(file)} accept={FILES}>
          {(props) => (
            <Button {...props} size="compact-sm" variant="outline" loading={bring.isPending}>
              Upload a font
            </Button>
          )}
        </FileButton>
      </div>
      <Notice error={brought.error ?? bring.error} />
      <span className="muted small">
        TTF, OTF or WOFF2 up to 5 MB; upload the regular weight first. Fonts that forbid embedding are rejected. Check
        that your licence covers client reports.
      </span>
    </section>
  );
}
