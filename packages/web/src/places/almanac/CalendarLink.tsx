import { Button, CopyButton, TextInput } from '@mantine/core';
import { call } from '../../api/call.ts';
import { useChange, useGet } from '../../api/hooks.ts';
import { Notice } from '../../parts/Notice.tsx';
import { momentWithYear } from '../../parts/when.ts';

/** A private address under which a calendar program shows what goes out. */
export function CalendarLink() {
  const link = useGet('GET /api/calendar-link');
  const make = useChange(() => call('POST /api/calendar-link'));
  const remove = useChange(() => call('DELETE /api/calendar-link'));
  const since = link.data?.since ?? null;
  const url = make.data?.url;
  return (
    <section className="card stack calendar-link" aria-label="In your calendar">
      <h2>In your calendar</h2>
      <p className="muted small">
        Subscribe to see your clients’ editions for the next 100 days. Anyone with the link can see them – keep it
        private.
      </p>
      {url && since && (
        <div className="row" style={{ alignItems: 'end' }}>
          <TextInput readOnly label="Link (shown only once)" value={url} style={{ flex: 1 }} />
          <CopyButton value={url}>
            {({ copied, copy }) => (
              <Button variant="outline" onClick={copy}>
                {copied ? 'Copied' : 'Copy'}
              </Button>
            )}
          </CopyButton>
        </div>
      )}
      {since && !url && <span>There is one since {momentWithYear(since)}.</span>}
      <div className="row">
        <Button variant="outline" loading={make.isPending} onClick={() => make.mutate()}>
          {since ? 'Replace link' : 'Create link'}
        </Button>
        {since && (
          <Button
            variant="subtle"
            color="red"
            loading={remove.isPending}
            onClick={() => remove.mutate(undefined, { onSuccess: () => make.reset() })}
          >
            Delete link
          </Button>
        )}
      </div>
      <Notice error={link.error ?? make.error ?? remove.error} />
    </section>
  );
}
