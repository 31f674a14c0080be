import { MOST_COUNTED } from '@chronicon/core/bounds';
import type { Edition } from '@chronicon/core/contract';
import { STATE_LABELS } from '@chronicon/core/contract/stateLabels';
import { Button, Checkbox, NativeSelect } from '@mantine/core';
import { Fragment } from 'react';
import { Link, useSearchParams } from 'react-router';
import { call } from '../../api/call.ts';
import { useChange, useGet } from '../../api/hooks.ts';
import { Deliveries } from '../../parts/Deliveries.tsx';
import { LeaveOut } from '../../parts/LeaveOut.tsx';
import { Loading } from '../../parts/Loading.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { Pages } from '../../parts/Pages.tsx';
import { PageTitle } from '../../parts/PageTitle.tsx';
import { SearchField } from '../../parts/SearchField.tsx';
import { STATES, StateMark } from '../../parts/StateMark.tsx';
import { momentOf, momentWithYear, zoneWords } from '../../parts/when.ts';
import { useSession } from '../../shell/sessionContext.ts';

const KIND_WORDS = { scheduled: 'by schedule', 'by-hand': 'made by hand', test: 'a test' };

function Details({ edition }: { edition: Edition }) {
  const params = { edition: edition.id };
  const retry = useChange(() => call('POST /api/editions/:edition/retry', { params }));
  return (
    <div className="stack">
      {edition.reason && (
        <Notice>
          {edition.reason}
          {edition.lookedAt && edition.state === 'held' && ` Last checked ${momentOf(edition.lookedAt)}.`}
        </Notice>
      )}
      <dl className="facts">
        <dt>Covers</dt>
        <dd>
          {edition.period?.label ?? '–'}
          {edition.compared && <span className="muted"> compared with {edition.compared.label}</span>}
        </dd>
        <dt>Made</dt>
        <dd>{KIND_WORDS[edition.kind]}</dd>
        <dt>Readers</dt>
        <dd>
          {edition.deliveries.length === 0 && (
            <span className="muted">
              {edition.readers.length === 0 ? 'archive only' : `for ${edition.readers.join(', ')}; not sent`}
            </span>
          )}
          <Deliveries of={edition.deliveries} />
        </dd>
      </dl>
      <div className="row">
        {edition.hasPdf && (
          <Button
            component="a"
            variant="outline"
            href={`/api/editions/${edition.id}/pdf?show=1`}
            target="_blank"
            rel="noreferrer"
          >
            Open PDF
          </Button>
        )}
        <Button component={Link} to={`/editions/${edition.id}`} variant={edition.may.send ? 'filled' : 'outline'}>
          {edition.may.send ? 'Review and send' : 'View recipients'}
        </Button>
        {edition.may.retry && (
          <Button loading={retry.isPending} onClick={() => retry.mutate()}>
            {edition.state === 'part-sent' ? 'Retry failed deliveries' : 'Check again'}
          </Button>
        )}
        <LeaveOut edition={edition} />
      </div>
      <Notice error={retry.error} />
    </div>
  );
}

/** Minutes by which something may go after its time before that is worth a word. */
const ON_TIME = 5;

/** When it went out, and when it was due where that is another time; of one that has not gone, when it is due. */
function WhenOf({ edition: { sentAt, dueAt, zone, local } }: { edition: Edition }) {
  const { zone: own } = useSession();
  const late = sentAt !== null && Math.abs(Date.parse(sentAt) - Date.parse(dueAt)) > ON_TIME * 60_000;
  return (
    <>
      {momentWithYear(sentAt ?? dueAt)}
      {late && <div className="muted small">due {momentOf(dueAt)}</div>}
      {zone !== own && !momentOf(dueAt).endsWith(local.time) && (
        <div className="muted small">
          due {local.time} {zoneWords(zone)}
        </div>
      )}
    </>
  );
}

function Row({ edition, open, onOpen }: { edition: Edition; open: boolean; onOpen: () => void }) {
  return (
    <Fragment>
      <tr className={open ? 'open' : ''}>
        <td style={{ whiteSpace: 'nowrap' }}>
          <WhenOf edition={edition} />
        </td>
        <td>
          <span className="chip" style={{ background: edition.colour }} />
          {edition.clientName} · <b>{edition.title}</b>
          {edition.group && ` · ${edition.group}`}
          {edition.number !== null && <span className="muted small"> no. {edition.number}</span>}
        </td>
        <td>{edition.period?.label ?? '–'}</td>
        <td>
          <StateMark state={edition.state} />
        </td>
        <td style={{ whiteSpace: 'nowrap', textAlign: 'right' }}>
          {edition.hasPdf && (
            <Button
              component="a"
              variant="subtle"
              size="compact-sm"
              href={`/api/editions/${edition.id}/pdf`}
              aria-label={`PDF of ${edition.clientName}, ${edition.period?.label ?? ''}`}
            >
              PDF
            </Button>
          )}
          <Button variant="subtle" size="compact-sm" aria-expanded={open} onClick={onOpen}>
            {open ? 'Less' : 'More'}
          </Button>
        </td>
      </tr>
      {open && (
        <tr className="open">
          <td />
          <td colSpan={4}>
            <Details edition={edition} />
          </td>
        </tr>
      )}
    </Fragment>
  );
}

/** Every edition, sent or not, newest first. Filters and the open edition live in the URL. */
export function Archive() {
  const [search, setSearch] = useSearchParams();
  const get = (key: string) => search.get(key) ?? '';
  const set = (patch: Record<string, string>) =>
    setSearch(
      (old) => {
        const next = new URLSearchParams(old);
        for (const [key, value] of Object.entries(patch)) {
          if (value) next.set(key, value);
          else next.delete(key);
        }
        return next;
      },
      { replace: true },
    );
  const { zone } = useSession();
  const tests = get('tests') === 'true';
  const query = {
    client: get('client'),
    scope: get('scope'),
    state: get('state'),
    text: get('text'),
    page: get('page'),
    tests: get('tests'),
  };
  const found = useGet('GET /api/editions', { query }, { live: true });
  const openId = get('edition');
  const single = useGet(
    'GET /api/editions/:edition',
    { params: { edition: openId } },
    { enabled: openId !== '', live: true },
  );
  const listed = found.data?.editions ?? [];
  const apart = single.data && !listed.some((e) => e.id === openId) ? [single.data] : [];
  return (
    <main className="place">
      <div className="place-head">
        <PageTitle of={['Archive']} />
        <h1>Archive</h1>
        <SearchField label="Client or report" value={get('text')} onChange={(text) => set({ text, page: '' })} />
        <NativeSelect
          aria-label="State"
          data={[{ value: '', label: 'any state' }, ...STATES.map((s) => ({ value: s, label: STATE_LABELS[s] }))]}
          value={get('state')}
          onChange={(e) => set({ state: e.currentTarget.value, page: '' })}
        />
        <Checkbox
          label="Tests"
          checked={tests}
          onChange={(e) => set({ tests: e.currentTarget.checked ? 'true' : '', page: '', edition: '' })}
        />
        {found.data && (
          <span className="muted small">
            {found.data.total > MOST_COUNTED
              ? `More than ${MOST_COUNTED.toLocaleString('en-GB')}`
              : found.data.total.toLocaleString('en-GB')}{' '}
            {tests ? 'tests' : 'editions'}
          </span>
        )}
      </div>
      <Notice error={found.error ?? single.error} />
      {!found.data ? (
        <Loading />
      ) : listed.length + apart.length === 0 ? (
        <p className="card muted">
          {tests ? 'No matching tests.' : 'No matching editions.'} Every edition you send is kept here.
        </p>
      ) : (
        <table className="list">
          <thead>
            <tr>
              <th>Sent or due, {zoneWords(zone)}</th>
              <th>Edition</th>
              <th>Covers</th>
              <th>State</th>
              <th />
            </tr>
          </thead>
          <tbody>
            {[...apart, ...listed].map((e) => (
              <Row
                key={e.id}
                edition={e}
                open={e.id === openId}
                onOpen={() => set({ edition: e.id === openId ? '' : e.id })}
              />
            ))}
          </tbody>
        </table>
      )}
      {found.data && <Pages of={found.data} page={get('page')} onPage={(page) => set({ page })} />}
    </main>
  );
}
