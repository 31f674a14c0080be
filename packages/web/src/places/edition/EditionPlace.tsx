import type { Review } from '@chronicon/core/contract';
import { Button } from '@mantine/core';
import { Link, useParams, useSearchParams } from 'react-router';
import { call } from '../../api/call.ts';
import { useChange, useGet } from '../../api/hooks.ts';
import { Choice } from '../../parts/Choice.tsx';
import { Deliveries } from '../../parts/Deliveries.tsx';
import { LeaveOut } from '../../parts/LeaveOut.tsx';
import { Loading } from '../../parts/Loading.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { PageTitle } from '../../parts/PageTitle.tsx';
import { ScenePage } from '../../parts/ScenePage.tsx';
import { StateMark } from '../../parts/StateMark.tsx';
import { useCountdown } from '../../parts/useCountdown.ts';
import { momentOf, plural } from '../../parts/when.ts';
import { useScopeIs } from '../../shell/scope.ts';
import { useSession } from '../../shell/sessionContext.ts';
import { DeliveriesOfEdition } from './DeliveriesOfEdition.tsx';
import { MailsOfEdition, readersOf } from './MailsOfEdition.tsx';
import { NoteOfEdition } from './NoteOfEdition.tsx';

/** States in which nothing moves by itself. */
const SETTLED = ['sent', 'part-sent', 'skipped', 'replaced'];

const LINES = { to: 'To', cc: 'Cc', bcc: 'Bcc' };

/** Figures of the dates of an edition, where a note on them is written. */
function figuresOf({ clientId, period, compared }: Review['edition']): string {
  const dates = (name: string, r: { from: string; to: string } | null) => (r ? `&${name}=${r.from}..${r.to}` : '');
  return `/figures?client=${clientId}${dates('period', period)}${dates('compare', compared)}`;
}

/** What one press does: to how many, and when. What was planned goes at its time; anything else as soon as it is let go. */
/** Readers by name, the first few: `Orla Fenwick and Tobin Aske`, `Orla Fenwick and 4 more`. */
function whomOf(mails: Review['mails']): string {
  const names = mails.map((m) => m.name || m.email);
  const shown = names.length <= NAMED ? names : [...names.slice(0, NAMED - 1), `${names.length - NAMED + 1} more`];
  return new Intl.ListFormat('en-GB').format(shown);
}
const NAMED = 3;

function letsGo({ edition, mails, stale }: Review, now: string): string {
  if (stale) return 'Refreshing the PDF…';
  const isAhead = edition.kind === 'scheduled' && edition.dueAt > now;
  if (mails.length > 0) {
    const whom = `to ${whomOf(mails)}`;
    return isAhead ? `Approve: sends ${whom} at ${momentOf(edition.dueAt)}` : `Send ${whom} now`;
  }
  // Somebody was to read it, and nobody may; or nobody was to.
  if (edition.readers.length > 0) return 'Send it';
  return isAhead ? `Approve: archived at ${momentOf(edition.dueAt)}` : 'Archive now';
}

/** Seconds: nearer than that, what was sent can be undone while one watches. */
const SOON = 120;

/** When what a person let go will go, and to whom; while it can be undone the seconds run. */
function GoesSoon({ review: { edition, mails } }: { review: Review }) {
  const left = useCountdown(edition.goesIn);
  if (left === null) return null;
  if (left > SOON) return <span className="tone-good small">● Approved: sends at {momentOf(edition.dueAt)}.</span>;
  const whom = mails.length > 0 ? ` to ${whomOf(mails)}` : '';
  return (
    <span className="tone-good small" role="status">
      ● Sending{whom} {left > 0 ? `in ${plural(left, 'second')}` : 'now'}.
    </span>
  );
}

/** What else waits on the Desk, once this is done. */
function NextNeed({ edition }: { edition: string }) {
  const desk = useGet('GET /api/desk', {}, { live: true });
  const next = desk.data?.needs.find((n) => !n.action.to.includes(edition));
  if (!desk.data) return null;
  return next ? (
    <Button component={Link} to={next.write ? '/' : next.action.to} variant="outline">
      Next: {next.title}
    </Button>
  ) : (
    <span className="muted small">Nothing else needs your review.</span>
  );
}

/** Whom it reaches, with which words, for which dates; and the one press that lets it go. */
function Aside({ review }: { review: Review }) {
  const { member, now } = useSession();
  const { edition, mails, hash } = review;
  const params = { edition: edition.id };
  const send = useChange(() => call('POST /api/editions/:edition/send', { params, body: { hash: hash! } }));
  const retry = useChange(() => call('POST /api/editions/:edition/retry', { params }));
  const back = useChange(() => call('POST /api/editions/:edition/take-back', { params }));
  const may = member.role === 'owner' || member.role === 'manager';
  const [first] = mails;
  return (
    <aside className="card stack" aria-label="What is sent, and to whom">
      <div className="row">
        <StateMark state={edition.state} />
        <span className="muted small">due {momentOf(edition.dueAt)}</span>
      </div>
      {edition.asks && (
        <span className="small">
          {edition.asks.who} must approve
          {edition.asks.until ? `; otherwise it is sent at ${momentOf(edition.asks.until)}.` : ' before it is sent.'}
        </span>
      )}
      {edition.may.takeBack && <GoesSoon review={review} />}
      {edition.reason && ![...review.turned, ...review.remarks].some((t) => edition.reason!.startsWith(t)) && (
        <Notice>{edition.reason}</Notice>
      )}
      {edition.lookedAt && edition.state === 'held' && (
        <span className="muted small">Last checked {momentOf(edition.lookedAt)}.</span>
      )}
      {review.problem && review.problem !== edition.reason && <Notice>{review.problem}</Notice>}
      <dl className="facts">
        <dt>Covers</dt>
        <dd>
          {edition.period?.label ?? '–'}
          {edition.compared && <span className="muted"> compared with {edition.compared.label}</span>}
        </dd>
        <dt>To</dt>
        <dd>
          {mails.map((m) => (
            <div key={m.email}>
              {m.line && <span className="muted">{LINES[m.line]} </span>}
              {m.name} <span className="muted">{m.email}</span>
            </div>
          ))}
          {mails.length === 0 && <span className="muted">{edition.readers.join(', ') || 'archive only'}</span>}
          {review.withheld.map((text) => (
            <div key={text} className="tone-attention small">
              {text}
            </div>
          ))}
        </dd>
        <dt>From</dt>
        <dd>
          {review.from.name} <span className="muted">{review.from.address}</span>
          {review.from.replyTo && <div className="muted small">Replies go to {review.from.replyTo}.</div>}
        </dd>
      </dl>
      {first && (
        // biome-ignore lint/a11y/noNoninteractiveTabindex: it scrolls, so the keyboard has to reach it
        <section className="mail-shown" lang={review.lang} aria-label="Email as plain text" tabIndex={0}>
          <b>{first.subject}</b>
          <p>{first.text}</p>
          <span className="muted small">{[first.fileName, ...first.tables].join(', ')}</span>
        </section>
      )}
      {may && review.note !== null && edition.deliveries.length === 0 && !edition.may.takeBack && (
        <NoteOfEdition key={review.note} edition={edition} note={review.note} />
      )}
      <Notice error={send.error ?? retry.error ?? back.error} />
      <div className="row">
        {edition.may.send && may && (
          <Button disabled={hash === null} loading={send.isPending || review.stale} onClick={() => send.mutate()}>
            {letsGo(review, now)}
          </Button>
        )}
        {edition.may.takeBack && may && (
          <Button variant="outline" loading={back.isPending} onClick={() => back.mutate()}>
            {edition.goesIn !== null && edition.goesIn <= SOON ? 'Undo' : 'Undo approval'}
          </Button>
        )}
        {edition.may.retry && may && (
          <Button variant="outline" loading={retry.isPending} onClick={() => retry.mutate()}>
            {edition.state === 'part-sent' ? 'Retry failed deliveries' : 'Check again'}
          </Button>
        )}
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
        {may && <LeaveOut edition={edition} />}
        {may && !edition.may.send && (edition.may.takeBack || SETTLED.includes(edition.state)) && (
          <NextNeed edition={edition.id} />
        )}
      </div>
      {edition.deliveries.length > 0 && (
        <dl className="facts">
          <dt>Emails</dt>
          <dd>
            <Deliveries of={edition.deliveries} />
          </dd>
        </dl>
      )}
    </aside>
  );
}

/** One edition as it goes: its pages, beside whom it reaches and with which mail. Nothing is sent from elsewhere unseen. */
export function EditionPlace() {
  const { edition: id = '' } = useParams();
  const [search, setSearch] = useSearchParams();
  const review = useGet('GET /api/editions/:edition/review', { params: { edition: id } }, { live: true, keep: true });
  const clientId = review.data?.edition.clientId ?? '';
  const client = useGet('GET /api/clients/:client', { params: { client: clientId } }, { enabled: clientId !== '' });
  useScopeIs(clientId || null);
  if (!review.data) {
    return <main className="place">{review.error ? <Notice error={review.error} /> : <Loading lines={12} />}</main>;
  }
  const { edition, pages, lang } = review.data;
  const looks = [
    { value: 'pages', label: 'Pages' },
    ...(review.data.mails.length > 0 ? [{ value: 'mail', label: 'Email' }] : []),
    ...(edition.deliveries.length > 0 ? [{ value: 'deliveries', label: 'Deliveries' }] : []),
  ];
  const look = looks.find((l) => l.value === search.get('show'))?.value ?? 'pages';
  return (
    <main className="place review">
      <div className="place-head">
        <PageTitle of={[edition.title, ...(edition.period ? [edition.period.label] : []), edition.clientName]} />
        <h1>
          <Link to={`/clients/${edition.clientId}`}>{edition.clientName}</Link>
          {' · '}
          {edition.title}
        </h1>
        <span className="muted small">
          {edition.period?.label}
          {edition.group && ` · ${edition.group}`}
          {edition.kind === 'test' && ' · a test'}
          {edition.number !== null && ` · no. ${edition.number}`}
        </span>
        <div className="acts">
          <Link to={`/archive?edition=${edition.id}`}>View in archive</Link>
        </div>
      </div>
      {review.data.remarks.length > 0 && (
        <div className="review-first">
          {review.data.remarks.map((r) => (
            <Notice key={r}>{r}</Notice>
          ))}
        </div>
      )}
      {review.data.turned.length > 0 && (
        <div className="review-first">
          <Notice>
            <b>An unusual day reverses a trend.</b> {review.data.turned.join(' ')}{' '}
            <Link to={figuresOf(edition)}>Add an explanation</Link>
          </Notice>
        </div>
      )}
      <div className="review-columns">
        <div className="stack">
          {looks.length > 1 && (
            <Choice
              label="View"
              options={looks}
              value={look}
              onChange={(show) => setSearch(show === 'pages' ? {} : { show }, { replace: true })}
            />
          )}
          {look === 'mail' && <MailsOfEdition edition={edition.id} readers={readersOf(review.data)} />}
          {look === 'deliveries' && client.data && <DeliveriesOfEdition edition={edition.id} client={client.data} />}
          {look === 'pages' && (
            /* biome-ignore lint/a11y/noNoninteractiveTabindex: it scrolls, so the keyboard has to reach it */
            <section className="desk-well" aria-label="Pages" tabIndex={0}>
              {pages.map((page, i) => (
                <ScenePage key={i} page={page} lang={lang} pictures={`/api/clients/${edition.clientId}/pictures`} />
              ))}
              {pages.length === 0 &&
                (SETTLED.includes(edition.state) || edition.state === 'held' ? (
                  <p className="muted">
                    No PDF yet.{' '}
                    {edition.state === 'held' && <Link to={`/clients/${edition.clientId}/feeds`}>View feeds</Link>}
                  </p>
                ) : (
                  <Loading lines={12} />
                ))}
            </section>
          )}
        </div>
        <Aside review={review.data} />
      </div>
    </main>
  );
}
