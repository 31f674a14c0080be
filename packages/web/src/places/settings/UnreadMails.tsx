import { Button } from '@mantine/core';
import { call } from '../../api/call.ts';
import { useChange } from '../../api/hooks.ts';
import { formError, Notice } from '../../parts/Notice.tsx';
import { momentOf } from '../../parts/when.ts';
import type { PartProps } from './part.ts';

/** Mails that came back and that could not be read, for a person to look at; nothing where there are none. */
export function UnreadMails({ data, mayChange }: PartProps) {
  const { unread } = data.mailRules;
  const remove = useChange((mail: string) => call('DELETE /api/agency/unread-mails/:mail', { params: { mail } }));
  if (unread.length === 0 || !mayChange) return null;
  return (
    <section id="unread" className="card stack settings-form" aria-label="Bounces we couldn’t read">
      <h2>Bounces we couldn’t read</h2>
      <p className="muted small">A reader may not be getting a report: open each one to see whom it concerns.</p>
      <ul className="plain stack">
        {unread.map((m) => {
          const name = m.subject || 'No subject';
          return (
            <li key={m.id} className="row">
              <span>
                {name} <span className="muted small">{momentOf(m.at)}</span>
              </span>
              <Button
                component="a"
                size="compact-xs"
                variant="default"
                href={`/api/agency/unread-mails/${m.id}`}
                aria-label={`Download: ${name}`}
              >
                Download
              </Button>
              <Button
                size="compact-xs"
                variant="subtle"
                color="red"
                aria-label={`Remove: ${name}`}
                loading={remove.isPending && remove.variables === m.id}
                onClick={() => remove.mutate(m.id)}
              >
                Remove
              </Button>
            </li>
          );
        })}
      </ul>
      <Notice error={formError(remove.error, [])} />
    </section>
  );
}
