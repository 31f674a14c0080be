import type { Connection, FoundAccount } from '@chronicon/core/contract';
import { Button, Checkbox, PasswordInput, Select } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { type FormEvent, useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import { call } from '../../api/call.ts';
import { useChange, useGet } from '../../api/hooks.ts';
import { Loading } from '../../parts/Loading.tsx';
import { fieldError, formError, Notice } from '../../parts/Notice.tsx';
import { PageTitle } from '../../parts/PageTitle.tsx';
import { PastOfFeed } from '../../parts/PastOfFeed.tsx';
import { useClientNames } from '../../parts/useClientNames.ts';
import { plainDate, plural } from '../../parts/when.ts';
import { useSession } from '../../shell/sessionContext.ts';
import { authorise } from './authorise.ts';

type Client = { id: string; name: string };
type Fit = { differences: string; canConfirm: boolean };

/** What stands beside one account: where it goes, and whether it fits. */
interface Row {
  account: FoundAccount;
  client: string;
  chosen: boolean;
  confirmed: boolean;
}

function ByToken({ kind, onMade }: { kind: string; onMade: (c: Connection) => void }) {
  const { demo } = useSession();
  const [token, setToken] = useState('');
  const make = useChange(() => call('POST /api/connections', { body: { kind, token } }));
  const submit = (e: FormEvent) => {
    e.preventDefault();
    make.mutate(undefined, { onSuccess: onMade });
  };
  return (
    <details className="small">
      <summary>Use an access token instead</summary>
      <form className="row" style={{ alignItems: 'end', marginTop: 8 }} onSubmit={submit}>
        <PasswordInput
          label="Access token"
          description="Stored encrypted; shown only once"
          autoComplete="off"
          w={280}
          value={token}
          onChange={(e) => setToken(e.currentTarget.value)}
          error={fieldError(make.error, 'token')}
        />
        <Button type="submit" variant="outline" loading={make.isPending}>
          Connect with token
        </Button>
      </form>
      <Notice error={formError(make.error, ['token'])} />
      {demo && (
        <span className="muted">
          In this demo, the token is <code>{demo.token}</code>.
        </span>
      )}
    </details>
  );
}

/** Which service, and by which of the agency's connections. */
function Services({ onTake, next }: { onTake: (connection: string) => void; next: string }) {
  const kinds = useGet('GET /api/feed-kinds');
  const connections = useGet('GET /api/connections');
  const [open, setOpen] = useState<string | null>(null);
  const go = useChange((kind: string) => authorise({ kind, next }));
  if (!kinds.data || !connections.data) return <Loading />;
  return (
    <>
      <Notice error={go.error} />
      <ul className="services">
        {kinds.data.map((k) => {
          const own = connections.data.filter((c) => c.kind === k.kind);
          return (
            <li key={k.kind} className="card stack" style={{ gap: 8 }}>
              <div>
                <b>{k.label}</b>
                <div className="muted small">{k.about}</div>
              </div>
              {own.map((c) => (
                <div key={c.id} className="row small" style={{ justifyContent: 'space-between' }}>
                  <span>
                    {c.refused ? (
                      <span className="tone-wrong">■ access revoked</span>
                    ) : (
                      <span className="tone-good">● connected {plainDate(c.madeAt.slice(0, 10))}</span>
                    )}
                    <span className="muted">
                      {' '}
                      · {plural(c.feeds, 'feed')}
                      {c.madeBy && ` · ${c.madeBy}`}
                    </span>
                  </span>
                  <Button
                    size="compact-sm"
                    variant="outline"
                    onClick={() => onTake(c.id)}
                    aria-label={`Choose accounts: ${k.label}`}
                  >
                    Choose accounts
                  </Button>
                </div>
              ))}
              <div className="row" style={{ gap: 6 }}>
                <Button
                  size="compact-sm"
                  variant={own.length > 0 ? 'default' : 'filled'}
                  disabled={!k.available}
                  loading={go.isPending && go.variables === k.kind}
                  onClick={() => go.mutate(k.kind)}
                  aria-label={`${own.length > 0 ? 'Connect another account' : 'Authorise'}: ${k.label}`}
                >
                  {own.length > 0 ? 'Connect another account' : 'Authorise'}
                </Button>
                {!k.available && <span className="muted small">not set up on this server</span>}
                {k.available && open !== k.kind && own.length === 0 && (
                  <Button
                    size="compact-sm"
                    variant="subtle"
                    onClick={() => setOpen(k.kind)}
                    aria-label={`Use a token: ${k.label}`}
                  >
                    Use a token
                  </Button>
                )}
              </div>
              {open === k.kind && <ByToken kind={k.kind} onMade={(c) => onTake(c.id)} />}
            </li>
          );
        })}
      </ul>
    </>
  );
}

/** In what an account does not look like the client's; asked only for a pair that nobody suggested. */
function useFit(connection: string, { account, client }: Row): Fit | undefined {
  const suggested = account.suggested?.client === client ? account.suggested : null;
  const links = [{ account: account.id, client }];
  const asked = useQuery({
    queryKey: ['fit', connection, account.id, client],
    queryFn: () => call('POST /api/connections/:connection/check', { params: { connection }, body: { links } }),
    enabled: client !== '' && suggested === null,
  });
  return suggested ?? asked.data?.[0];
}

function AccountLine({
  connection,
  row,
  clients,
  onSearch,
  onChange,
}: {
  connection: string;
  row: Row;
  clients: Client[];
  onSearch: (text: string) => void;
  onChange: (patch: Partial<Row>) => void;
}) {
  const { account } = row;
  const fit = useFit(connection, row);
  const taken = account.takenBy.some((t) => t.client === row.client);
  const byHand = row.client !== '' && row.client !== account.suggested?.client;
  return (
    <tr className={row.chosen ? 'open' : ''}>
      <td>
        <Checkbox
          aria-label={`Connect ${account.name} ${account.id}`}
          checked={row.chosen}
          disabled={row.client === '' || taken || fit?.canConfirm === false}
          onChange={(e) => onChange({ chosen: e.currentTarget.checked })}
        />
      </td>
      <td>
        <b>{account.name}</b>
        <div className="muted small">
          {[account.site, account.id, account.zone, account.currency].filter(Boolean).join(' · ')}
        </div>
      </td>
      <td>
        <Select
          aria-label={`Client of ${account.name} ${account.id}`}
          placeholder="No client"
          searchable
          clearable
          data={clients.map((c) => ({ value: c.id, label: c.name }))}
          onSearchChange={onSearch}
          value={row.client === '' ? null : row.client}
          onChange={(id) => onChange({ client: id ?? '', confirmed: false, chosen: id !== null && row.chosen })}
        />
      </td>
      <td className="small">
        {taken ? (
          <span className="muted">connected already</span>
        ) : row.client === '' ? (
          <span className="muted">no match</span>
        ) : fit && fit.differences !== '' ? (
          <>
            <span className={fit.canConfirm ? 'tone-attention' : 'tone-wrong'}>■ {fit.differences}</span>
            {fit.canConfirm ? (
              <Checkbox
                mt={4}
                size="xs"
                label="I confirm this is the right account"
                checked={row.confirmed}
                onChange={(e) => onChange({ confirmed: e.currentTarget.checked })}
              />
            ) : (
              <div className="muted">Currency doesn’t match the client’s.</div>
            )}
          </>
        ) : (
          <span className="tone-good">
            ● {byHand ? 'fits' : account.suggested?.by === 'site' ? 'same site' : 'same name'}
          </span>
        )}
      </td>
    </tr>
  );
}

/** The accounts found by a connection, each beside the client that it seems to belong to. */
function Accounts({ id, only, onBack }: { id: string; only: string | null; onBack: () => void }) {
  const found = useGet('GET /api/connections/:connection/accounts', { params: { connection: id } });
  const [patches, setPatches] = useState<Record<string, Partial<Row>>>({});
  const rows: Row[] = (found.data?.accounts ?? []).map((account) => {
    const client = account.suggested?.client ?? '';
    const taken = account.takenBy.length > 0;
    const start = {
      client,
      chosen: client !== '' && !taken && account.suggested!.canConfirm && (only === null || client === only),
      confirmed: false,
    };
    return { account, ...start, ...patches[account.id] };
  });
  const names = useClientNames({ ids: rows.flatMap((r) => (r.client === '' ? [] : [r.client])) });
  const connect = useChange(() =>
    call('POST /api/connections/:connection/feeds', {
      params: { connection: id },
      body: {
        links: rows
          .filter((r) => r.chosen && r.client !== '')
          .map((r) => ({ account: r.account.id, client: r.client, confirmed: r.confirmed })),
      },
    }),
  );
  if (found.error) {
    return (
      <div className="stack">
        <Notice error={found.error} />
        <div>
          <Button variant="outline" onClick={onBack}>
            Choose another service
          </Button>
        </div>
      </div>
    );
  }
  if (!found.data || names.isLoading) return <Loading />;
  if (connect.data) return <Connected results={connect.data} rows={rows} clients={names.clients} onBack={onBack} />;
  const chosen = rows.filter((r) => r.chosen);
  // Accounts of the client one came from are first, then those that are likely, then the others.
  const weight = (r: Row) => (r.client === only && only !== null ? 0 : r.client === '' ? 2 : 1);
  const ordered = [...rows].sort((a, b) => weight(a) - weight(b));
  return (
    <div className="stack">
      <p className="muted" style={{ margin: 0 }}>
        {plural(rows.length, 'account')} found. Check that each is matched to the right client.
      </p>
      <table className="list accounts">
        <thead>
          <tr>
            <th aria-label="Chosen" />
            <th>Account at the service</th>
            <th style={{ width: 260 }}>Client</th>
            <th style={{ width: 320 }}>Match</th>
          </tr>
        </thead>
        <tbody>
          {ordered.map((row) => (
            <AccountLine
              key={row.account.id}
              connection={id}
              row={row}
              clients={names.clients}
              onSearch={names.search}
              onChange={(patch) =>
                setPatches((all) => ({ ...all, [row.account.id]: { ...all[row.account.id], ...patch } }))
              }
            />
          ))}
        </tbody>
      </table>
      <Notice error={connect.error} />
      <div className="row">
        <Button disabled={chosen.length === 0} loading={connect.isPending} onClick={() => connect.mutate()}>
          {chosen.length === 0 ? 'Connect accounts' : `Connect ${plural(chosen.length, 'account')}`}
        </Button>
        <Button variant="subtle" onClick={onBack}>
          Choose another service
        </Button>
      </div>
    </div>
  );
}

/** What came of it, account by account. */
function Connected({
  results,
  rows,
  clients,
  onBack,
}: {
  results: { account: string; client: string; feed: string | null; message: string | null }[];
  rows: Row[];
  clients: Client[];
  onBack: () => void;
}) {
  const good = results.filter((r) => r.feed !== null && r.message === null).length;
  return (
    <div className="stack">
      <h2>
        {plural(good, 'account')} connected
        {results.length > good && `, ${plural(results.length - good, 'waits', 'wait')} for you`}
      </h2>
      <table className="list">
        <tbody>
          {results.map((r) => (
            <tr key={`${r.account} ${r.client}`}>
              <td>
                <b>{rows.find((x) => x.account.id === r.account)?.account.name}</b>{' '}
                <span className="muted small">{r.account}</span>
              </td>
              <td>
                <Link className="name-link" to={`/clients/${r.client}/feeds`}>
                  {clients.find((c) => c.id === r.client)?.name}
                </Link>
              </td>
              <td>
                {r.message === null ? (
                  <span className="tone-good">● importing history</span>
                ) : (
                  <span className="tone-wrong">■ {r.message}</span>
                )}
                {r.feed !== null && <PastOfFeed client={r.client} feed={r.feed} />}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <div>
        <Button onClick={onBack}>Connect another service</Button>
      </div>
    </div>
  );
}

/** Connecting services: be let in, choose accounts, say whose they are. */
export function Connect() {
  const [search, setSearch] = useSearchParams();
  const client = search.get('client');
  const connection = search.get('connection');
  const to = (id: string | null) => setSearch({ ...(client && { client }), ...(id !== null && { connection: id }) });
  const { clients } = useClientNames({ ids: client ? [client] : [] });
  const name = clients.find((c) => c.id === client)?.name;
  return (
    <main className="place">
      <div className="place-head">
        <PageTitle of={['Connect services']} />
        <h1>{connection ? 'Whose accounts are these?' : 'Connect services'}</h1>
        <span className="muted small">{name ? `for ${name}` : 'shared by all clients'}</span>
      </div>
      {connection ? (
        <Accounts key={connection} id={connection} only={client} onBack={() => to(null)} />
      ) : (
        <Services onTake={to} next={client ? `/connect?client=${client}` : '/connect'} />
      )}
    </main>
  );
}
