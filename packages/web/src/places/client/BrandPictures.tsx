import type { BrandPicture, Client } from '@chronicon/core/contract';
import { Button, FileButton } from '@mantine/core';
import { ApiError, call, upload } from '../../api/call.ts';
import { useChange } from '../../api/hooks.ts';
import { Notice } from '../../parts/Notice.tsx';

const LIMIT = 5 * 1024 * 1024;

type Shown = Client['brand']['logo'];

/** A picture of a brand as it was brought. */
function Picture({ client, of, alt, dark }: { client: Client; of: NonNullable<Shown>; alt: string; dark: boolean }) {
  return (
    <span className={dark ? 'logo-shown dark' : 'logo-shown'}>
      <svg height="72" viewBox={`0 0 ${of.width} ${of.height}`} role="img" aria-label={alt}>
        {of.kind === 'image' ? (
          <image href={`/api/clients/${client.id}/pictures/${of.file}`} width={of.width} height={of.height} />
        ) : (
          of.paths.map((p, i) => (
            <path
              key={i}
              d={p.d}
              fill={p.fill ?? 'none'}
              stroke={p.stroke ?? 'none'}
              strokeWidth={p.strokeWidth}
              fillRule={p.evenOdd ? 'evenodd' : 'nonzero'}
            />
          ))
        )}
      </svg>
    </span>
  );
}

interface PartProps {
  client: Client;
  as: BrandPicture;
  title: string;
  none: string;
  files: string;
}

function Part({ client, as, title, none, files }: PartProps) {
  const shown = client.brand[as] ?? null;
  const send = useChange((file: File) => {
    // Told before it is sent: the server would say the same after five megabytes.
    const large = 'The file is larger than 5 MB.';
    if (file.size > LIMIT) return Promise.reject(new ApiError(413, large, { logo: large }));
    return upload(`/api/clients/${client.id}/logo?as=${as}`, file);
  });
  const remove = useChange(() =>
    call('DELETE /api/clients/:client/logo', { params: { client: client.id }, query: { as } }),
  );
  return (
    <fieldset className="page-choices" aria-label={title}>
      <legend>{title}</legend>
      {shown ? (
        <Picture client={client} of={shown} alt={`${title} of ${client.name}`} dark={as === 'logoDark'} />
      ) : (
        <span className="muted small">{none}</span>
      )}
      <div className="row">
        <FileButton onChange={(file) => file && send.mutate(file)} accept={files}>
          {(props) => (
            <Button
              {...props}
              size="compact-sm"
              variant="outline"
              loading={send.isPending}
              aria-label={`Choose a file: ${title}`}
            >
              Choose a file
            </Button>
          )}
        </FileButton>
        {shown && (
          <Button size="compact-sm" variant="subtle" color="red" onClick={() => remove.mutate()}>
            Take it away
          </Button>
        )}
      </div>
      <Notice error={send.error ?? remove.error} />
    </fieldset>
  );
}

/** The pictures of a client's brand: its logo, one for dark ground, and the one of its covers. */
export function BrandPictures({ client }: { client: Client }) {
  return (
    <section className="card stack">
      <h2>Pictures</h2>
      <Part
        client={client}
        as="logo"
        title="Logo"
        none="None: the name stands in its place."
        files=".svg,.png,.jpg,.jpeg,image/*"
      />
      <Part
        client={client}
        as="logoDark"
        title="Logo for dark ground"
        none="None: the other one stands there, too."
        files=".svg,.png,.jpg,.jpeg,image/*"
      />
      <Part
        client={client}
        as="cover"
        title="Picture of the cover"
        none="None: covers have words alone."
        files=".png,.jpg,.jpeg,image/png,image/jpeg"
      />
      <span className="muted small">SVG, PNG or JPEG, up to 5 MB each; a cover’s is PNG or JPEG.</span>
    </section>
  );
}
