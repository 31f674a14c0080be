import { Button, Checkbox, Radio, Stack } from '@mantine/core';
import { useState } from 'react';
import { call, type Reply } from '../../api/call.ts';
import { useChange, useGet } from '../../api/hooks.ts';
import { Loading } from '../../parts/Loading.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { PageTitle } from '../../parts/PageTitle.tsx';
import { dayWithYear, momentOf, plural } from '../../parts/when.ts';
import { useSession } from '../../shell/sessionContext.ts';
import { SettingsTabs } from '../settings/SettingsTabs.tsx';

type SendingData = Reply<'GET /api/sending'>;

/** Of a copy: what fell due since it was last alive, to be ticked where it went out elsewhere. */
function Go({ data }: { data: SendingData }) {
  const { member } = useSession();
  const [sent, setSent] = useState<string[]>([]);
  const go = useChange(() => call('POST /api/sending/go', { body: { sentAlready: sent } }));
  if (member.role !== 'owner') return <p className="muted">Only an owner can enable sending for this copy.</p>;
  const rest = data.due.length - sent.length;
  return (
    <section className="card stack" aria-label="Enable sending for this copy">
      <h2>Due since this copy last ran</h2>
      {data.lastBeat && <p className="muted small">It last ran on {momentOf(data.lastBeat)}.</p>}
      {data.due.length === 0 ? (
        <p className="muted">Nothing was due in the meantime.</p>
      ) : (
        <Checkbox.Group label="Tick editions already sent by the other server" value={sent} onChange={setSent}>
          <Stack gap={6} mt={6}>
            {data.due.map((e) => (
              <Checkbox
                key={e.edition}
                value={e.edition}
                label={e.label}
                description={`${dayWithYear(e.local.date)}, ${e.local.time} · ${plural(e.readers, 'reader')}`}
              />
            ))}
          </Stack>
        </Checkbox.Group>
      )}
      <Notice error={go.error} />
      <div>
        <Button loading={go.isPending} onClick={() => go.mutate()}>
          {rest > 0 ? `Enable sending: ${plural(rest, 'edition')} will be sent` : 'Enable sending'}
        </Button>
      </div>
    </section>
  );
}

/** What is done about an odd day that turns a verdict round: the agency's choice. */
function OddDays({ waits }: { waits: boolean }) {
  const { member } = useSession();
  const choose = useChange((wait: boolean) => call('PUT /api/sending/odd-days', { body: { wait } }));
  return (
    <section className="card stack" aria-label="Unusual days">
      <h2>If an unusual day reverses a trend</h2>
      <p className="muted">An unusual day can make a falling figure look like growth. The report always adds a note.</p>
      <Radio.Group
        aria-label="If an unusual day reverses a trend"
        value={(choose.isPending ? choose.variables : waits) ? 'wait' : 'send'}
        onChange={(v) => choose.mutate(v === 'wait')}
      >
        <Stack gap={6}>
          <Radio
            value="wait"
            label="Hold for review"
            description="Sends once someone has reviewed it or explained the day in a note for readers."
            disabled={member.role !== 'owner'}
          />
          <Radio value="send" label="Send on time with a note" disabled={member.role !== 'owner'} />
        </Stack>
      </Radio.Group>
      {member.role !== 'owner' && <span className="muted small">Only an owner can change this.</span>}
      <Notice error={choose.error} />
    </section>
  );
}

/** Whether mails go out, what stops them and what mends that; and the switch that stops them all. */
export function Sending() {
  const { member } = useSession();
  const sending = useGet('GET /api/sending', {}, { live: true });
  const [asking, setAsking] = useState(false);
  const turn = useChange((on: boolean) => call('PUT /api/sending', { body: { on } }));
  if (!sending.data) {
    return <main className="place">{sending.error ? <Notice error={sending.error} /> : <Loading />}</main>;
  }
  const { stops, quietUntil, perMinute } = sending.data;
  const off = stops.some((s) => s.cause === 'person');
  const may = member.role === 'owner' || member.role === 'manager';
  return (
    <main className="place spaced">
      <div className="place-head">
        <PageTitle of={['Sending']} />
        <h1>Sending</h1>
        <span className="muted small">
          {stops.length > 0
            ? 'Sending is stopped.'
            : quietUntil !== null
              ? `Quiet hours: emails resume at ${quietUntil}.`
              : perMinute !== null
                ? `Sending is on, at most ${perMinute} a minute.`
                : 'Sending is on.'}
        </span>
      </div>
      {may && <SettingsTabs />}
      {stops.length > 0 && (
        <ul className="needs">
          {stops.map((s) => (
            <li key={s.cause} className={`need ${s.cause === 'person' ? 'attention' : 'wrong'}`}>
              <p>
                <b>{s.reason}</b>
                <span className="muted small">
                  {s.mend} {s.since && `Since ${momentOf(s.since)}.`}
                </span>
              </p>
            </li>
          ))}
        </ul>
      )}
      {stops.some((s) => s.cause === 'copy') && <Go data={sending.data} />}
      {may && (
        <section className="card stack" aria-label="The switch">
          <h2>{off ? 'All sending is turned off' : 'Stop all sending'}</h2>
          <p className="muted">
            {off
              ? 'Editions are prepared and wait. Overdue ones are sent as soon as sending is turned on.'
              : 'Stops all email for every client immediately. Editions are still prepared and wait.'}
          </p>
          <Notice error={turn.error} />
          <div className="row">
            {off ? (
              <Button loading={turn.isPending} onClick={() => turn.mutate(true)}>
                Resume sending
              </Button>
            ) : (
              <Button
                color="red.9"
                variant={asking ? 'filled' : 'outline'}
                loading={turn.isPending}
                onClick={() => (asking ? turn.mutate(false, { onSuccess: () => setAsking(false) }) : setAsking(true))}
              >
                {asking ? 'Stop all sending now' : 'Stop all sending'}
              </Button>
            )}
            {asking && !off && (
              <Button variant="subtle" onClick={() => setAsking(false)}>
                Cancel
              </Button>
            )}
          </div>
        </section>
      )}
      <OddDays waits={sending.data.waitsForOddDays} />
    </main>
  );
}
