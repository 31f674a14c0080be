import type { Client, DeliveryDetail } from '@chronicon/core/contract';
import { Button, NativeSelect, VisuallyHidden } from '@mantine/core';
import { useState } from 'react';
import { Link } from 'react-router';
import { call } from '../../api/call.ts';
import { useChange, useGet } from '../../api/hooks.ts';
import { Loading } from '../../parts/Loading.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { momentOf, plural } from '../../parts/when.ts';
import { useSession } from '../../shell/sessionContext.ts';

/** What became of a mail, by shape, word and colour. */
const MARKS: Record<DeliveryDetail['state'], { mark: string; word: string; tone: string }> = {
  queued: { mark: '○', word: 'queued', tone: 'muted' },
  sending: { mark: '◐', word: 'sending', tone: 'muted' },
  accepted: { mark: '●', word: 'accepted by mail server', tone: 'tone-good' },
  deferred: { mark: '◔', word: 'retrying', tone: 'tone-attention' },
  uncertain: { mark: '◇', word: 'may have arrived', tone: 'tone-attention' },
  refused: { mark: '✕', word: 'refused', tone: 'tone-wrong' },
  withdrawn: { mark: '▬', word: 'not sent', tone: 'muted' },
  bounced: { mark: '✕', word: 'bounced', tone: 'tone-wrong' },
};

const OUTCOMES: Record<string, string> = {
  accepted: 'taken',
  deferred: 'not now',
  refused: 'refused',
  uncertain: 'no reply after sending',
  aborted: 'stopped by this server',
  server: 'the mail server accepted nothing',
};

/** All tries to hand one mail over, the last one first, in the mail server's words. */
function Attempts({ of }: { of: DeliveryDetail['attempts'] }) {
  if (of.length === 0) return null;
  return (
    <details>
      <summary className="small">{plural(of.length, 'attempt')}</summary>
      <ol className="attempts" reversed>
        {[...of].reverse().map((a) => (
          <li key={a.at} className="small">
            {momentOf(a.at)} · {a.outcome ? OUTCOMES[a.outcome] : 'the server stopped in the meantime'}
            {a.reply && <div className="muted mono">{a.reply}</div>}
          </li>
        ))}
      </ol>
    </details>
  );
}

function Row({
  delivery: d,
  may,
  pending,
  sure,
  onResend,
}: {
  delivery: DeliveryDetail;
  may: boolean;
  pending: boolean;
  /** It was pressed once. */
  sure: boolean;
  onResend: () => void;
}) {
  const { mark, word, tone } = MARKS[d.state];
  return (
    <tr>
      <td>
        {d.name}
        <div className="muted small">{d.email}</div>
        {d.askedBy && <div className="muted small">sent again by {d.askedBy}</div>}
      </td>
      <td>
        <span className={tone}>
          {mark} {word}
        </span>
        {d.reply && d.state !== 'accepted' && <div className="small">{d.reply}</div>}
        {d.nextTry && <div className="muted small">next try {momentOf(d.nextTry)}</div>}
        <Attempts of={d.attempts} />
      </td>
      <td>
        <span className="row" style={{ gap: 4 }}>
          {d.state !== 'withdrawn' && (
            <Button
              component="a"
              size="compact-xs"
              variant="default"
              href={`/api/deliveries/${d.id}/mail`}
              aria-label={`Email as a file: ${d.name}`}
            >
              Email as a file
            </Button>
          )}
          {may && d.mayResend && d.state !== 'withdrawn' && (
            <Button
              size="compact-xs"
              variant="default"
              loading={pending}
              color={sure ? 'red' : 'dark'}
              aria-label={sure ? `Confirm: resend to ${d.name}` : `Resend to ${d.name}`}
              onClick={onResend}
            >
              {sure ? 'Confirm: resend' : 'Resend'}
            </Button>
          )}
        </span>
      </td>
    </tr>
  );
}

/** What became of the mails of an edition, reader by reader; and how they go once more, or to somebody else. */
export function DeliveriesOfEdition({ edition, client }: { edition: string; client: Client }) {
  const { member } = useSession();
  const may = member.role === 'owner' || member.role === 'manager';
  const params = { edition };
  const found = useGet('GET /api/editions/:edition/deliveries', { params }, { live: true });
  const resend = useChange((readers: string[] | null) =>
    call('POST /api/editions/:edition/resend', { params, body: { readers } }),
  );
  const [other, setOther] = useState('');
  /** What a second press will do: a mail that is sent is sent. */
  const [sure, setSure] = useState<string | null>(null);
  const press = (what: string, readers: string[] | null) => {
    if (sure !== what) {
      setSure(what);
      return;
    }
    setSure(null);
    resend.mutate(readers, { onSuccess: () => setOther('') });
  };
  if (!found.data) return found.error ? <Notice error={found.error} /> : <Loading lines={4} />;
  const all = found.data;
  if (all.length === 0) return <p className="muted">No emails yet.</p>;
  const again = may && all.some((d) => d.mayResend);
  const had = new Set(all.filter((d) => d.state !== 'withdrawn').map((d) => d.reader));
  const others = client.contacts.filter((c) => !had.has(c.id) && c.standing === 'reads');
  return (
    <div className="stack">
      <table className="list">
        <thead>
          <tr>
            <th scope="col">Reader</th>
            <th scope="col">Delivery status</th>
            <th scope="col">
              <VisuallyHidden>Actions</VisuallyHidden>
            </th>
          </tr>
        </thead>
        <tbody>
          {all.map((d) => (
            <Row
              key={d.id}
              delivery={d}
              may={may}
              pending={resend.isPending && resend.variables?.[0] === d.reader}
              sure={sure === d.id}
              onResend={() => press(d.id, [d.reader])}
            />
          ))}
        </tbody>
      </table>
      <Notice error={resend.error} />
      {resend.data && <span className="tone-good small">● Resending {plural(resend.data.mails, 'email')}.</span>}
      {again && (
        <div className="row">
          {had.size > 1 && (
            <Button
              variant="outline"
              loading={resend.isPending && resend.variables === null}
              color={sure === 'all' ? 'red' : 'petrol'}
              onClick={() => press('all', null)}
            >
              {sure === 'all' ? `Confirm: resend to all ${had.size}` : `Resend to all ${had.size}`}
            </Button>
          )}
          {others.length > 0 && (
            <>
              <NativeSelect
                aria-label="Someone else"
                value={other}
                data={[
                  { value: '', label: 'someone else …' },
                  ...others.map((c) => ({ value: c.id, label: `${c.firstName} ${c.lastName} (${c.email})` })),
                ]}
                onChange={(e) => setOther(e.currentTarget.value)}
              />
              <Button
                variant="outline"
                disabled={other === ''}
                loading={resend.isPending && resend.variables?.[0] === other}
                color={sure === `to ${other}` ? 'red' : 'petrol'}
                onClick={() => press(`to ${other}`, [other])}
              >
                {sure === `to ${other}` ? 'Confirm: send' : 'Send to this person too'}
              </Button>
            </>
          )}
          <Link to={`/clients/${client.id}/contacts`} className="small">
            Correct an address or add a reader
          </Link>
        </div>
      )}
    </div>
  );
}
