import type { AgencySettings, BrandPicture, Client } from '@chronicon/core/contract';
import { PICTURE } from '@chronicon/core/contract';
import { Button, FileButton } from '@mantine/core';
import type { ReactNode } from 'react';
import { ApiError, call, upload } from '../../api/call.ts';
import { useChange } from '../../api/hooks.ts';
import { Notice } from '../../parts/Notice.tsx';

type Shown = Client['brand']['logo'];

/** Whose pictures they are: a client's, or the agency's. */
interface Kit {
  name: string;
  brand: Client['brand'] | AgencySettings['brand'];
  /** Addresses under which its pictures lie, and where one is brought. */
  pictures: string;
  route: string;
  remove: (as: BrandPicture) => Promise<unknown>;
}

/** A picture of a brand as it was brought. */
function Picture({ kit, of, alt, dark }: { kit: Kit; of: NonNullable<Shown>; alt: string; dark: boolean }) {
  return (
    <span className={dark ? 'logo-shown dark' : 'logo-shown'}>
      <svg height="72" viewBox={`0 0 ${of.width} ${of.height}`} role="img" aria-label={alt}>
        {of.kind === 'image' ? (
          <image href={`${kit.pictures}/${of.file}`} width={of.width} height={of.height} />
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
  kit: Kit;
  as: BrandPicture;
  title: string;
  none: string;
  files: string;
}

function Part({ kit, as, title, none, files }: PartProps) {
  const shown = kit.brand[as] ?? null;
  const send = useChange((file: File) => {
    // Told before it is sent: the server would say the same after five megabytes.
    const large = 'The file is larger than 5 MB.';
    if (file.size > PICTURE.bytes) return Promise.reject(new ApiError(413, large, { logo: large }));
    return upload(`${kit.route}?as=${as}`, file);
  });
  const remove = useChange(() => kit.remove(as));
  return (
    <fieldset className="page-choices" aria-label={title}>
      <legend>{title}</legend>
      {shown ? (
        <Picture kit={kit} of={shown} alt={`${title} of ${kit.name}`} dark={as === 'logoDark'} />
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
            Remove
          </Button>
        )}
      </div>
      <Notice error={send.error ?? remove.error} />
    </fieldset>
  );
}

/** The pictures of a kit: its logo, one for dark ground, and the one of its covers. */
function KitPictures({ kit, title, children }: { kit: Kit; title: string; children?: ReactNode }) {
  return (
    <section className="card stack" aria-label={title}>
      <h2>{title}</h2>
      {children}
      <Part
        kit={kit}
        as="logo"
        title="Logo"
        none="No logo: the name is shown instead."
        files=".svg,.png,.jpg,.jpeg,image/*"
      />
      <Part
        kit={kit}
        as="logoDark"
        title="Logo for dark backgrounds"
        none="None: the standard logo is used, on a white background if needed."
        files=".svg,.png,.jpg,.jpeg,image/*"
      />
      <Part
        kit={kit}
        as="cover"
        title="Cover picture"
        none="None: covers are text only."
        files=".png,.jpg,.jpeg,image/png,image/jpeg"
      />
      <Part
        kit={kit}
        as="mailHead"
        title="Email header picture"
        none="None: emails begin with a line in the main colour."
        files=".png,.jpg,.jpeg,image/png,image/jpeg"
      />
      <span className="muted small">
        SVG, PNG or JPEG up to 5 MB (cover and email images: PNG or JPEG). The dark-background logo is used on coloured
        covers.
      </span>
    </section>
  );
}

/** The pictures of a client; where it has the agency's, those stand in their places. */
export function BrandPictures({ client }: { client: Client }) {
  const follows = client.brand.follows ?? [];
  const asAgency = [
    ...(follows.includes('logo') ? ['logo'] : []),
    ...(follows.includes('cover') ? ['cover picture'] : []),
    ...(follows.includes('mail') ? ['email header'] : []),
  ];
  const kit: Kit = {
    name: client.name,
    brand: client.brand,
    pictures: `/api/clients/${client.id}/pictures`,
    route: `/api/clients/${client.id}/logo`,
    remove: (as) => call('DELETE /api/clients/:client/logo', { params: { client: client.id }, query: { as } }),
  };
  return (
    <KitPictures kit={kit} title="Pictures">
      {asAgency.length > 0 && (
        <span className="small tone-attention">Using the agency’s {asAgency.join(', ')} instead of these.</span>
      )}
    </KitPictures>
  );
}

/** The agency's own, for clients that have them as the agency does. */
export function AgencyPictures({ name, brand }: { name: string; brand: AgencySettings['brand'] }) {
  const kit: Kit = {
    name,
    brand,
    pictures: '/api/agency/pictures',
    route: '/api/agency/logo',
    remove: (as) => call('DELETE /api/agency/logo', { query: { as } }),
  };
  return <KitPictures kit={kit} title="Pictures of the agency" />;
}
