import { Button, Checkbox, Radio, Stack } from '@mantine/core';
import { useState } from 'react';
import { call, type Reply } from '../../api/call.ts';
import { useChange, useGet } from '../../api/hooks.ts';
import { Loading } from '../../parts/Loading.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { dayWithYear, momentOf, plural } from '../../parts/when.ts';
import { useSession } from '../../shell/sessionContext.ts';
import { SettingsTabs } from '../settings/SettingsTabs.tsx';

type SendingData = Reply<'GET /api/sending'>;

/** Of a copy: what fell due since it was last alive, to be ticked where it went out elsewhere. */
function Go({ data }: { data: SendingData }) {
  const { member } = useSession();
  const [sent, setSent] = useState<string[]>([]);
  const go = useChange(() => call('POST /api/sending/go', { body: { sentAlready: sent } }));
  if (member.role !== 'owner') return <p className="muted">An owner has to let this copy send.</p>;
  const rest = data.due.length - sent.length;
  return (
    <section className="card stack" aria-label="Let this copy send">
      <h2>What fell due since this copy was last alive</h2>
      {data.lastBeat && <p className="muted small">It was last alive on {momentOf(data.lastBeat)}.</p>}
      {data.due.length === 0 ? (
        <p className="muted">Nothing: no edition fell due meanwhile.</p>
      ) : (
        <Checkbox.Group label="Tick what was sent already from elsewhere" value={sent} onChange={setSent}>
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
          {rest > 0 ? `Let this server send: ${plural(rest, 'edition')} will go` : 'Let this server send'}
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
    <section className="card stack" aria-label="Odd days">
      <h2>Where an odd day turns a verdict round</h2>
      <p className="muted">
        A day that weekday and season do not explain may make a figure read better that is worse without it. The page
        always says so in a note.
      </p>
      <Radio.Group
        aria-label="Where an odd day turns a verdict round"
        value={(choose.isPending ? choose.variables : waits) ? 'wait' : 'send'}
        onChange={(v) => choose.mutate(v === 'wait')}
      >
        <Stack gap={6}>
          <Radio
            value="wait"
            label="The edition waits for a person"
            description="It goes once somebody has looked at it, or has said in a note for readers what happened."
            disabled={member.role !== 'owner'}
          />
          <Radio value="send" label="It goes at its time, with the note" disabled={member.role !== 'owner'} />
        </Stack>
      </Radio.Group>
      {member.role !== 'owner' && <span className="muted small">An owner chooses this.</span>}
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
        <h1>Sending</h1>
        <span className="muted small">
          {stops.length > 0
            ? 'No mail goes out.'
            : quietUntil !== null
              ? `It is night by your rules: mails wait until ${quietUntil}, and go by themselves then.`
              : perMinute !== null
                ? `Mails go out, at most ${perMinute} a minute.`
                : 'Mails go out.'}
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
          <h2>{off ? 'All sending is switched off' : 'Stop everything'}</h2>
          <p className="muted">
            {off
              ? 'Editions are drawn, and wait. Those whose time has passed go as soon as it is switched on.'
              : 'For all clients, at once: no mail is handed over any more. Editions are drawn all the same, and wait.'}
          </p>
          <Notice error={turn.error} />
          <div className="row">
            {off ? (
              <Button loading={turn.isPending} onClick={() => turn.mutate(true)}>
                Let mails go out again
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
