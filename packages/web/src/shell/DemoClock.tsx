import { Button, Popover, Stack, TextInput } from '@mantine/core';
import { useEffect, useState } from 'react';
import { call } from '../api/call.ts';
import { useChange } from '../api/hooks.ts';
import { fieldError, formError, Notice } from '../parts/Notice.tsx';
import { useSession } from './sessionContext.ts';

const HOUR = 3_600_000;
/** A moment as the button of the clock shows it. */
const MOMENT = /^\s*\d{4}-(0[1-9]|1[0-2])-(0[1-9]|[12]\d|3[01])[ T]([01]\d|2[0-3]):[0-5]\d\s*$/;

/** The next day at nine, by this machine's clock face in UTC. */
const tomorrowAtNine = (now: number): Date => {
  const d = new Date(now + 24 * HOUR);
  d.setUTCHours(9, 0, 0, 0);
  return d;
};

/** The clock of a demo: what time it is there, and ways to move it on. Times are UTC. */
export function DemoClock() {
  const session = useSession();
  const [ahead, setAhead] = useState(() => Date.parse(session.now) - Date.now());
  const [, beat] = useState(0);
  const [to, setTo] = useState('');
  const move = useChange((at: Date) => call('POST /api/demo/clock', { body: { to: at.toISOString() } }));
  useEffect(() => setAhead(Date.parse(session.now) - Date.now()), [session.now]);
  useEffect(() => {
    const timer = setInterval(() => beat((n) => n + 1), 10_000);
    return () => clearInterval(timer);
  }, []);
  const now = Date.now() + ahead;
  const shown = new Date(now).toISOString().slice(0, 16);
  return (
    <Popover trapFocus returnFocus position="bottom-end" width={300}>
      <Popover.Target>
        <Button
          variant="subtle"
          size="xs"
          color="gray"
          aria-label={`Demo · ${shown.replace('T', ' ')}: the clock, in UTC`}
        >
          Demo · {shown.replace('T', ' ')}
        </Button>
      </Popover.Target>
      <Popover.Dropdown>
        <Stack gap={8}>
          <b>The demo’s clock (UTC)</b>
          <span className="small muted">
            You can only move it forward. Anything due runs in order, with the data of its time.
          </span>
          <Button variant="default" loading={move.isPending} onClick={() => move.mutate(new Date(now + HOUR))}>
            Forward 1 hour
          </Button>
          <Button variant="default" loading={move.isPending} onClick={() => move.mutate(tomorrowAtNine(now))}>
            To tomorrow, 09:00
          </Button>
          <TextInput
            label="Set time"
            placeholder="2026-11-20 09:00"
            value={to}
            onChange={(e) => setTo(e.currentTarget.value)}
            error={
              fieldError(move.error, 'to') ??
              (to.trim().length >= 16 && !MOMENT.test(to) ? 'Enter a date and time like 2026-11-20 09:00.' : undefined)
            }
          />
          <Button
            disabled={!MOMENT.test(to)}
            loading={move.isPending}
            onClick={() => move.mutate(new Date(`${to.trim().replace(' ', 'T')}:00Z`))}
          >
            Move the clock
          </Button>
          <Notice error={formError(move.error, ['to'])} />
        </Stack>
      </Popover.Dropdown>
    </Popover>
  );
}
