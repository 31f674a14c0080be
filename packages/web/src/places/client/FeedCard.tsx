import type { Client, Feed } from '@chronicon/core/contract';
import { Button, Menu, Modal, PasswordInput } from '@mantine/core';
import { useState } from 'react';
import { Link, useLocation, useNavigate } from 'react-router';
import { call } from '../../api/call.ts';
import { useChange, useGet } from '../../api/hooks.ts';
import { FeedProgress, FeedState, lastSuccess } from '../../parts/feedWords.tsx';
import { fieldError, Notice } from '../../parts/Notice.tsx';
import { PastOfFeed } from '../../parts/PastOfFeed.tsx';
import { momentOf, plainDate, plural } from '../../parts/when.ts';
import { authorise } from '../connect/authorise.ts';

interface Props {
  client: Client;
  feed: Feed;
}

function NewToken({ client, feed }: Props) {
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
      <Button type="submit" loading={change.isPending}>
        Test token
      </Button>
    </form>
  );
}

/** The one thing to do about a feed. */
function MainAct({ client, feed, onFault }: Props & { onFault: (error: unknown) => void }) {
  const params = { client: client.id, feed: feed.id };
  const does = { onError: onFault, onSuccess: () => onFault(null) };
  const fetch = useChange(() => call('POST /api/clients/:client/feeds/:feed/sync', { params }));
  const confirm = useChange(() => call('POST /api/clients/:client/feeds/:feed/confirm', { params }));
  const again = useChange(() => call('POST /api/clients/:client/feeds/:feed/reconnect', { params }));
  const grant = useChange(() =>
    authorise({ kind: feed.kind, connection: feed.connection!, next: `/clients/${client.id}/feeds` }),
  );
  const named = (what: string) => `${what}: ${feed.name}`;
  switch (feed.action) {
    case 'fetch':
      return (
        <Button
          variant={feed.trouble ? 'filled' : 'outline'}
          aria-label={named('Fetch now')}
          loading={fetch.isPending}
          onClick={() => fetch.mutate(undefined, does)}
        >
          Fetch now
        </Button>
      );
    case 'confirm':
      return (
        <>
          <Button
            variant={feed.canConfirm ? 'subtle' : 'filled'}
            aria-label={named('Check again')}
            loading={fetch.isPending}
            onClick={() => fetch.mutate(undefined, does)}
          >
            Check again
          </Button>
          {feed.canConfirm && (
            <Button
              aria-label={named('Confirm account')}
              loading={confirm.isPending}
              onClick={() => confirm.mutate(undefined, does)}
            >
              Confirm account
            </Button>
          )}
        </>
      );
    case 'authorise':
      return (
        <Button aria-label={named('Reconnect')} loading={grant.isPending} onClick={() => grant.mutate(undefined, does)}>
          Reconnect
        </Button>
      );
    case 'reconnect':
      return (
        <Button
          variant="outline"
          aria-label={named('Reconnect')}
          loading={again.isPending}
          onClick={() => again.mutate(undefined, does)}
        >
          Reconnect
        </Button>
      );
    case 'import':
      return (
        <Button component="a" href="#bring-a-file" variant="outline" aria-label={named('Upload file')}>
          Upload file
        </Button>
      );
    case 'type':
      return (
        <Button
          component={Link}
          to={`/clients/${client.id}/typed/${feed.id}`}
          variant="outline"
          aria-label={named('Fill in')}
        >
          Fill in
        </Button>
      );
    case 'token':
      return null;
  }
}

/** Asks once more, and says what will stop. */
function Removal({ client, feed, onClose }: Props & { onClose: () => void }) {
  const params = { client: client.id, feed: feed.id };
  const removal = useGet('GET /api/clients/:client/feeds/:feed/removal', { params });
  const remove = useChange(() => call('DELETE /api/clients/:client/feeds/:feed', { params }));
  const stops = removal.data?.schedules ?? [];
  return (
    <Modal opened onClose={onClose} title={`Remove ${feed.name}?`}>
      <div className="stack">
        <span>Existing data and editions stay. No new data is fetched.</span>
        {stops.length > 0 && (
          <Notice>
            {plural(stops.length, 'schedule')} will stop because the report needs this feed: {stops.join(', ')}.
            Reconnecting it resumes {stops.length === 1 ? 'it' : 'them'}.
          </Notice>
        )}
        <Notice error={remove.error} />
        <div className="row">
          <Button
            color="red"
            loading={remove.isPending}
            onClick={() => remove.mutate(undefined, { onSuccess: onClose })}
          >
            Remove this feed
          </Button>
          <Button variant="subtle" onClick={onClose}>
            Keep it
          </Button>
        </div>
      </div>
    </Modal>
  );
}

/** Days that came again with other figures. */
function Revised({ client, feed, onClose }: Props & { onClose: () => void }) {
  const params = { client: client.id, feed: feed.id };
  const all = useGet('GET /api/clients/:client/feeds/:feed/restatements', { params });
  const number = (n: number) => n.toLocaleString('en-GB', { maximumFractionDigits: 2 });
  return (
    <Modal opened onClose={onClose} size="lg" title={`Revised data in ${feed.name}`}>
      <table className="list">
        <thead>
          <tr>
            <th>Day</th>
            <th>Figure</th>
            <th className="num">Before</th>
            <th className="num">Now</th>
            <th>Noticed</th>
          </tr>
        </thead>
        <tbody>
          {all.data?.map((r) => (
            <tr key={`${r.dataset} ${r.day} ${r.measure} ${r.at}`}>
              <td>{plainDate(r.day)}</td>
              <td>
                {r.measure} <span className="muted small">in {r.dataset}</span>
              </td>
              <td className="num">{number(r.before)}</td>
              <td className="num">{number(r.after)}</td>
              <td>{momentOf(r.at)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </Modal>
  );
}

/** A secret address and a folder for files that come by themselves. */
function ByThemselves({ client, feed, onClose }: Props & { onClose: () => void }) {
  const params = { client: client.id, feed: feed.id };
  const make = useChange(() => call('POST /api/clients/:client/feeds/:feed/drop-key', { params }));
  return (
    <Modal opened onClose={onClose} size="lg" title={`Automatic uploads to ${feed.name}`}>
      <div className="stack">
        <span>
          Send files to this feed’s secret URL or its folder. Files in a known format import automatically; others wait
          for your review.
        </span>
        {make.data ? (
          <dl className="facts">
            <dt>Address</dt>
            <dd>
              <code style={{ overflowWrap: 'anywhere' }}>{`PUT ${location.origin}${make.data.path}/name.csv`}</code>
            </dd>
            <dt>Folder</dt>
            <dd>
              <code>{make.data.folder}</code> <span className="muted">in the server’s inbox</span>
            </dd>
          </dl>
        ) : (
          <span className="muted small">The URL is shown only once and replaces any earlier one.</span>
        )}
        <Notice error={make.error} />
        <div className="row">
          {!make.data && (
            <Button loading={make.isPending} onClick={() => make.mutate()}>
              Create URL
            </Button>
          )}
          <Button variant="subtle" onClick={onClose}>
            Close
          </Button>
        </div>
      </div>
    </Modal>
  );
}

function More({ client, feed }: Props) {
  const [open, setOpen] = useState<'removal' | 'restated' | 'themselves' | null>(null);
  const close = () => setOpen(null);
  const props = { client, feed, onClose: close };
  return (
    <>
      <Menu position="bottom-end">
        <Menu.Target>
          <Button variant="subtle" aria-label={`More: ${feed.name}`}>
            More
          </Button>
        </Menu.Target>
        <Menu.Dropdown>
          {feed.restated && <Menu.Item onClick={() => setOpen('restated')}>Revisions</Menu.Item>}
          {feed.source === 'file' && <Menu.Item onClick={() => setOpen('themselves')}>Automatic uploads</Menu.Item>}
          <Menu.Item component={Link} to={`/figures?client=${client.id}`}>
            View figures
          </Menu.Item>
          <Menu.Item color="red" onClick={() => setOpen('removal')}>
            Remove
          </Menu.Item>
        </Menu.Dropdown>
      </Menu>
      {open === 'removal' && <Removal {...props} />}
      {open === 'restated' && <Revised {...props} />}
      {open === 'themselves' && <ByThemselves {...props} />}
    </>
  );
}

function Datasets({ feed }: { feed: Feed }) {
  if (feed.datasets.length === 0) return null;
  return (
    <details className="small">
      <summary>{plural(feed.datasets.length, 'dataset')}</summary>
      <table className="list" style={{ marginTop: 8 }}>
        <thead>
          <tr>
            <th>Dataset</th>
            <th>From</th>
            <th>Through</th>
            <th className="num">Days</th>
            <th className="num">Rows</th>
          </tr>
        </thead>
        <tbody>
          {feed.datasets.map((d) => (
            <tr key={d.id}>
              <td>{d.name}</td>
              <td>{plainDate(d.firstDay)}</td>
              <td>{d.coveredThrough ? plainDate(d.coveredThrough) : '–'}</td>
              <td className="num">{d.coveredDays.toLocaleString('en-GB')}</td>
              <td className="num">{d.rows.toLocaleString('en-GB')}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </details>
  );
}

/** What a person wants to know of a feed in good order, in the order in which they ask. */
function Facts({ feed }: { feed: Feed }) {
  const { restated, quota } = feed;
  const facts: [string, string][] = [
    ['Last success', lastSuccess(feed)],
    ...(feed.source === 'service' && feed.state !== 'removed'
      ? [['Next sync', feed.nextSync ? momentOf(feed.nextSync) : 'after you confirm'] as [string, string]]
      : []),
    ...(restated
      ? [['Revised', `${plainDate(restated.day)}, noticed ${momentOf(restated.at)}`] as [string, string]]
      : []),
    ...(quota
      ? [
          ['Requests today', `${quota.used.toLocaleString('en-GB')} of ${quota.limit.toLocaleString('en-GB')}`] as [
            string,
            string,
          ],
        ]
      : []),
    ...(feed.account ? [['Account', feed.account] as [string, string]] : []),
  ];
  return (
    <dl className="feed-facts">
      {facts.map(([name, value]) => (
        <div key={name}>
          <dt>{name}</dt>
          <dd>{value}</dd>
        </div>
      ))}
    </dl>
  );
}

/** One feed: how it is, and the one thing to do about it. */
export function FeedCard({ client, feed }: Props) {
  const [fault, setFault] = useState<unknown>(null);
  const { hash } = useLocation();
  const navigate = useNavigate();
  return (
    <section
      className={`card stack feed${hash === `#${feed.id}` ? ' chosen' : ''}`}
      id={feed.id}
      aria-label={feed.name}
      style={{ gap: 10 }}
    >
      <div className="row">
        <h2 style={{ margin: 0, fontSize: 18 }}>{feed.name}</h2>
        <FeedState feed={feed} />
        <span className="row" style={{ marginLeft: 'auto', gap: 4 }}>
          <MainAct client={client} feed={feed} onFault={setFault} />
          {feed.state !== 'removed' && <More client={client} feed={feed} />}
        </span>
      </div>
      <Notice error={fault} />
      {feed.trouble && <Notice>{feed.trouble}</Notice>}
      {feed.state === 'stopped' && !feed.canConfirm && (
        <span className="small">
          Fix it in the service and check again, remove the feed, or{' '}
          <Button variant="subtle" size="compact-xs" onClick={() => navigate(`/connect?client=${client.id}`)}>
            connect another account
          </Button>
        </span>
      )}
      {feed.action === 'token' && <NewToken client={client} feed={feed} />}
      <FeedProgress feed={feed} />
      <Facts feed={feed} />
      <PastOfFeed client={client.id} feed={feed.id} />
      <Datasets feed={feed} />
    </section>
  );
}
