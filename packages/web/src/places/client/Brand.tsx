import type { Client } from '@chronicon/core/contract';
import { Button, ColorInput, FileButton, TextInput } from '@mantine/core';
import { type FormEvent, useState } from 'react';
import { ApiError, call, upload } from '../../api/call.ts';
import { useChange } from '../../api/hooks.ts';
import { fieldError, formError, Notice } from '../../parts/Notice.tsx';
import { Unsaved } from '../../parts/Unsaved.tsx';

const LIMIT = 5 * 1024 * 1024;

function Logo({ client }: { client: Client }) {
  const { logo } = client.brand;
  const send = useChange((file: File) => {
    // Told before it is sent: the server would say the same after five megabytes.
    const large = 'The file is larger than 5 MB.';
    if (file.size > LIMIT) return Promise.reject(new ApiError(413, large, { logo: large }));
    return upload(`/api/clients/${client.id}/logo`, file);
  });
  const remove = useChange(() => call('DELETE /api/clients/:client/logo', { params: { client: client.id } }));
  return (
    <section className="card stack">
      <h2>Logo</h2>
      {logo === null && <span className="muted">None: the name stands in its place.</span>}
      {logo && (
        <div>
          <span className="logo-shown">
            <svg
              height="72"
              viewBox={`0 0 ${logo.width} ${logo.height}`}
              role="img"
              aria-label={`Logo of ${client.name}`}
            >
              {logo.kind === 'image' ? (
                <image
                  href={`/api/clients/${client.id}/pictures/${logo.file}`}
                  width={logo.width}
                  height={logo.height}
                />
              ) : (
                logo.paths.map((p, i) => (
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
        </div>
      )}
      <div className="row">
        <FileButton onChange={(file) => file && send.mutate(file)} accept=".svg,.png,.jpg,.jpeg,image/*">
          {(props) => (
            <Button {...props} variant="outline" loading={send.isPending}>
              Choose a file
            </Button>
          )}
        </FileButton>
        {logo && (
          <Button variant="subtle" color="red" onClick={() => remove.mutate()}>
            Take it away
          </Button>
        )}
        <span className="muted small">SVG, PNG or JPEG, up to 5 MB</span>
      </div>
      <Notice error={send.error ?? remove.error} />
    </section>
  );
}

export function Brand({ client }: { client: Client }) {
  const [main, setMain] = useState(client.brand.main);
  const [second, setSecond] = useState(client.brand.second);
  const [footer, setFooter] = useState(client.brand.footer);
  const save = useChange(() =>
    call('PUT /api/clients/:client/brand', { params: { client: client.id }, body: { main, second, footer } }),
  );
  const { brand } = client;
  const changed = main !== brand.main || second !== brand.second || footer !== brand.footer;
  const submit = (e: FormEvent) => {
    e.preventDefault();
    save.mutate();
  };
  return (
    <div className="columns even">
      <form className="card stack" onSubmit={submit} noValidate>
        <h2>Colours and footer</h2>
        <Unsaved when={changed && !save.isPending} what="these colours" />
        <ColorInput
          withEyeDropper={false}
          label="Main colour"
          description="Lines, bars, the current period"
          value={main}
          onChange={setMain}
          error={fieldError(save.error, 'main')}
        />
        <ColorInput
          withEyeDropper={false}
          label="Second colour"
          value={second}
          onChange={setSecond}
          error={fieldError(save.error, 'second')}
        />
        <TextInput
          label="Footer"
          description="Empty: “Prepared by” with the agency’s and the client’s name"
          value={footer}
          onChange={(e) => setFooter(e.currentTarget.value)}
          error={fieldError(save.error, 'footer')}
        />
        <Notice error={formError(save.error, ['main', 'second', 'footer'])} />
        <div className="row">
          <Button type="submit" loading={save.isPending}>
            Save
          </Button>
          {save.isSuccess && <span className="tone-good">Saved</span>}
        </div>
      </form>
      <Logo client={client} />
    </div>
  );
}
