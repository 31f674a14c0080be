import type { Client, Feed } from '@chronicon/core/contract';
import { Button, NativeSelect, PasswordInput, TextInput } from '@mantine/core';
import { type FormEvent, useState } from 'react';
import { call } from '../../api/call.ts';
import { useChange, useGet } from '../../api/hooks.ts';
import { Loading } from '../../parts/Loading.tsx';
import { fieldError, formError, Notice } from '../../parts/Notice.tsx';
import { momentOf, plainDate } from '../../parts/when.ts';
import { useSession } from '../../shell/session.tsx';
import { FeedProgress, FeedState, lastSuccess } from './feedWords.tsx';

function NewToken({ client, feed }: { client: Client; feed: Feed }) {
  const [token, setToken] = useState('');
  const change = useChange(() =>
    call('PUT /api/clients/:client/feeds/:feed/token', {
      params: { client: client.id, feed: feed.id },
      body: { token },
    }),
  );
  return (
    <form
      className="row"
      style={{ alignItems: 'end' }}
      onSubmit={(e) => {
        e.preventDefault();
        change.mutate();
      }}
    >
      <PasswordInput
        label="New access token"
        w={280}
        value={token}
        onChange={(e) => setToken(e.currentTarget.value)}
        error={fieldError(change.error, 'token') ?? change.error?.message}
      />
      <Button type="submit" variant="outline" loading={change.isPending}>
        Try this token
      </Button>
    </form>
  );
}

function FeedCard({ client, feed }: { client: Client; feed: Feed }) {
  const sync = useChange(() =>
    call('POST /api/clients/:client/feeds/:feed/sync', { params: { client: client.id, feed: feed.id } }),
  );
  return (
    <section className="card stack" aria-label={feed.name}>
      <div className="row">
        <h2 style={{ margin: 0 }}>{feed.name}</h2>
        <FeedState feed={feed} />
        <Button style={{ marginLeft: 'auto' }} variant="outline" loading={sync.isPending} onClick={() => sync.mutate()}>
          Fetch now
        </Button>
      </div>
      {feed.trouble && <Notice>{feed.trouble}</Notice>}
      {feed.state === 'troubled' && <NewToken client={client} feed={feed} />}
      <FeedProgress feed={feed} />
      <span className="muted small">
        Account {feed.account} · last success {lastSuccess(feed)} · next look{' '}
        {feed.nextSync ? momentOf(feed.nextSync) : '–'}
      </span>
      <table className="list">
        <thead>
          <tr>
            <th>Dataset</th>
            <th>From</th>
            <th>Through</th>
            <th>Days</th>
            <th>Rows</th>
          </tr>
        </thead>
        <tbody>
          {feed.datasets.map((d) => (
            <tr key={d.id}>
              <td>{d.name}</td>
              <td>{plainDate(d.firstDay)}</td>
              <td>{d.coveredThrough ? plainDate(d.coveredThrough) : '–'}</td>
              <td>{d.coveredDays.toLocaleString('en-GB')}</td>
              <td>{d.rows.toLocaleString('en-GB')}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

function Connect({ client }: { client: Client }) {
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
    <form className="card stack" onSubmit={submit} style={{ maxWidth: 520 }} noValidate>
      <h2>Connect a feed</h2>
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
        description="Kept encrypted; never shown again"
        autoComplete="off"
        value={token}
        onChange={(e) => setToken(e.currentTarget.value)}
        error={fieldError(connect.error, 'token')}
      />
      {demo && (
        <span className="small muted">
          In this demonstration, accounts are listed at <a href={demo.services}>the simulated services</a>; the token is{' '}
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
          A feed brings this client’s figures, day by day. Connect the first one; its history comes along.
        </p>
      )}
      <Connect client={client} />
    </div>
  );
}
