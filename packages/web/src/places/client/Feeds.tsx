import type { Client } from '@chronicon/core/contract';
import { Button, NativeSelect, PasswordInput, TextInput } from '@mantine/core';
import { type FormEvent, useState } from 'react';
import { Link } from 'react-router';
import { call } from '../../api/call.ts';
import { useChange, useGet } from '../../api/hooks.ts';
import { Loading } from '../../parts/Loading.tsx';
import { fieldError, formError, Notice } from '../../parts/Notice.tsx';
import { useSession } from '../../shell/sessionContext.ts';
import { DropFile } from '../files/DropFile.tsx';
import { Imports } from '../files/Imports.tsx';
import { NewTyped } from '../typed/NewTyped.tsx';
import { FeedCard } from './FeedCard.tsx';

/** One account by its number, for services that know no round trip of authorisation. */
function ByNumber({ client }: { client: Client }) {
  const { demo } = useSession();
  const kinds = useGet('GET /api/feed-kinds');
  const [kind, setKind] = useState('web-analytics');
  const [account, setAccount] = useState('');
  const [token, setToken] = useState('');
  const connect = useChange(() =>
    call('POST /api/clients/:client/feeds', { params: { client: client.id }, body: { kind, account, token } }),
  );
  const submit = (e: FormEvent) => {
    e.preventDefault();
    connect.mutate(undefined, {
      onSuccess: () => {
        setAccount('');
        setToken('');
      },
    });
  };
  return (
    <form className="stack" onSubmit={submit} style={{ marginTop: 10 }} noValidate>
      <NativeSelect
        label="Service"
        data={(kinds.data ?? []).map((k) => ({
          value: k.kind,
          label: k.available ? k.label : `${k.label} (not set up here)`,
        }))}
        description={kinds.data?.find((k) => k.kind === kind)?.about}
        value={kind}
        onChange={(e) => setKind(e.currentTarget.value)}
        error={fieldError(connect.error, 'kind')}
      />
      <TextInput
        label="Account number"
        value={account}
        onChange={(e) => setAccount(e.currentTarget.value)}
        error={fieldError(connect.error, 'account')}
      />
      <PasswordInput
        label="Access token"
        description="Stored encrypted; shown only once"
        autoComplete="off"
        value={token}
        onChange={(e) => setToken(e.currentTarget.value)}
        error={fieldError(connect.error, 'token')}
      />
      {demo && (
        <span className="small muted">
          In this demo, accounts are listed at <a href={demo.services}>the simulated services</a>; the token is{' '}
          <code>{demo.token}</code>.
        </span>
      )}
      <Notice error={formError(connect.error, ['kind', 'account', 'token'])} />
      <div>
        <Button type="submit" loading={connect.isPending}>
          Connect and fetch
        </Button>
      </div>
    </form>
  );
}

/** The three ways in which figures come: fetched, brought, typed. */
function BringIn({ client }: { client: Client }) {
  return (
    <section className="stack" aria-label="Add data">
      <h2 style={{ margin: '6px 0 0' }}>Add data</h2>
      <div className="ways">
        <div className="card stack">
          <h3>From a service</h3>
          <span className="muted small">
            Web analytics, ads, social, email, calls, listings, upkeep, search positions.
          </span>
          <div>
            <Button component={Link} to={`/connect?client=${client.id}`}>
              Connect a service
            </Button>
          </div>
          <details className="small">
            <summary>By account number and token</summary>
            <ByNumber client={client} />
          </details>
        </div>
        <div className="card stack" id="bring-a-file">
          <h3>From a file</h3>
          <DropFile client={client} />
        </div>
        <div className="card stack">
          <h3>Manual data</h3>
          <span className="muted small">For data no service has, by week or month: in-store sales, phone orders.</span>
          <NewTyped client={client} />
        </div>
      </div>
    </section>
  );
}

/** How a client's figures come in, and whether they do. */
export function Feeds({ client }: { client: Client }) {
  const feeds = useGet('GET /api/clients/:client/feeds', { params: { client: client.id } }, { refetchInterval: 1_500 });
  if (!feeds.data) return feeds.error ? <Notice error={feeds.error} /> : <Loading />;
  return (
    <div className="stack">
      {feeds.data.map((f) => (
        <FeedCard key={f.id} client={client} feed={f} />
      ))}
      {feeds.data.length === 0 && (
        <p className="muted">
          Feeds collect this client’s data daily. Connect one to start; past data is imported too.
        </p>
      )}
      <BringIn client={client} />
      <Imports client={client} />
    </div>
  );
}
