import { MAILS_A_MINUTE } from '@chronicon/core/bounds';
import type { MailRules } from '@chronicon/core/contract';
import { Button, Checkbox, CopyButton, TextInput } from '@mantine/core';
import { type FormEvent, useState } from 'react';
import { call } from '../../api/call.ts';
import { useChange } from '../../api/hooks.ts';
import { FormEnd } from '../../parts/FormEnd.tsx';
import { fieldError, Notice } from '../../parts/Notice.tsx';
import { NumberField } from '../../parts/NumberField.tsx';
import type { PartProps } from './part.ts';

/** What is told of the rules to whoever may not change them. */
function rulesWords({ bounces, perMinute, quiet }: MailRules): string[] {
  return [
    bounces === ''
      ? 'Bounces go to the sender address and aren’t tracked.'
      : `Bounces go to ${bounces} and are shown with the reader.`,
    perMinute === null ? 'No limit per minute.' : `At most ${perMinute} emails a minute.`,
    quiet === null ? 'No quiet hours.' : `Quiet hours from ${quiet.from} to ${quiet.until}, agency time.`,
  ];
}

/** Sending rules: where they come back, how many, and when. */
export function MailRulesPart({ data, mayChange }: PartProps) {
  const { dkim: _, box: __, listens, ...kept } = data.mailRules;
  const [rules, setRules] = useState<MailRules>(kept);
  const save = useChange((body: MailRules) => call('PUT /api/agency/mail-rules', { body }));
  const changed = JSON.stringify(rules) !== JSON.stringify(kept);
  const submit = (e: FormEvent) => {
    e.preventDefault();
    save.mutate(rules);
  };
  return (
    <section className="card stack settings-form" aria-label="Sending rules">
      <h2>Sending rules</h2>
      {mayChange ? (
        <form className="stack" onSubmit={submit}>
          <TextInput
            label="Bounce address"
            description={
              listens === null
                ? 'We add a plus sign and a code to it. Set up its mailbox below, or set CHRONICON_BOUNCE_PORT.'
                : `Forward this address to port ${listens} of this server (with plus addressing). Leave empty to not track bounces.`
            }
            placeholder="bounces@agency.example"
            value={rules.bounces}
            error={fieldError(save.error, 'bounces')}
            onChange={(e) => setRules({ ...rules, bounces: e.currentTarget.value.trim() })}
          />
          <Checkbox
            label="Limit per minute"
            checked={rules.perMinute !== null}
            onChange={(e) => setRules({ ...rules, perMinute: e.currentTarget.checked ? 60 : null })}
          />
          {rules.perMinute !== null && (
            <NumberField
              label="Emails per minute"
              value={rules.perMinute}
              min={1}
              max={MAILS_A_MINUTE}
              onChange={(n) => setRules({ ...rules, perMinute: n })}
            />
          )}
          <Checkbox
            label="Quiet hours"
            description={`In ${data.agency.zone}; anything due is sent afterwards`}
            checked={rules.quiet !== null}
            onChange={(e) =>
              setRules({ ...rules, quiet: e.currentTarget.checked ? { from: '21:00', until: '06:00' } : null })
            }
          />
          {rules.quiet !== null && (
            <div className="field-pairs">
              <TextInput
                type="time"
                label="From"
                value={rules.quiet.from}
                error={fieldError(save.error, 'quiet.from')}
                onChange={(e) => setRules({ ...rules, quiet: { ...rules.quiet!, from: e.currentTarget.value } })}
              />
              <TextInput
                type="time"
                label="Until"
                value={rules.quiet.until}
                error={fieldError(save.error, 'quiet.until')}
                onChange={(e) => setRules({ ...rules, quiet: { ...rules.quiet!, until: e.currentTarget.value } })}
              />
            </div>
          )}
          <FormEnd
            error={save.error}
            fields={['bounces', 'perMinute', 'quiet.from', 'quiet.until']}
            pending={save.isPending}
            disabled={!changed}
          />
        </form>
      ) : (
        rulesWords(kept).map((t) => <p key={t}>{t}</p>)
      )}
    </section>
  );
}

/** What mails are signed with, and what the domain has to say of it. */
export function DkimPart({ data, mayChange }: PartProps) {
  const { dkim } = data.mailRules;
  const [asked, setAsked] = useState({ domain: data.agency.mailFrom.split('@')[1] ?? '', selector: 'reports' });
  const [sure, setSure] = useState(false);
  const make = useChange(() => call('POST /api/agency/dkim', { body: asked }));
  const remove = useChange(() => call('DELETE /api/agency/dkim'));
  return (
    <section className="card stack settings-form" aria-label="Signed emails">
      <h2>Signed emails</h2>
      <p className="muted small">DKIM-signed emails are more trusted. The private key stays on this server.</p>
      {dkim ? (
        <>
          <p className="tone-good">● Emails are signed as {dkim.domain}.</p>
          <TextInput label="DNS record name" readOnly value={dkim.name} />
          <div className="row">
            <TextInput label="TXT value" readOnly value={dkim.record} style={{ flex: 1 }} />
            <CopyButton value={dkim.record}>
              {({ copied, copy }) => (
                <Button variant="default" onClick={copy}>
                  {copied ? 'Copied' : 'Copy it'}
                </Button>
              )}
            </CopyButton>
          </div>
          {mayChange && (
            <div className="row">
              <Button
                variant={sure ? 'filled' : 'subtle'}
                color="red"
                loading={remove.isPending}
                onClick={() => (sure ? remove.mutate(undefined, { onSettled: () => setSure(false) }) : setSure(true))}
              >
                {sure ? 'Delete key and stop signing' : 'Stop signing'}
              </Button>
            </div>
          )}
        </>
      ) : mayChange ? (
        <form
          className="stack"
          onSubmit={(e) => {
            e.preventDefault();
            make.mutate();
          }}
        >
          <div className="field-pairs">
            <TextInput
              label="Domain"
              value={asked.domain}
              error={fieldError(make.error, 'domain')}
              onChange={(e) => setAsked({ ...asked, domain: e.currentTarget.value })}
            />
            <TextInput
              label="Key name (selector)"
              value={asked.selector}
              error={fieldError(make.error, 'selector')}
              onChange={(e) => setAsked({ ...asked, selector: e.currentTarget.value })}
            />
          </div>
          <FormEnd error={make.error} fields={['domain', 'selector']} pending={make.isPending} save="Create key" />
        </form>
      ) : (
        <p className="muted">Emails aren’t signed.</p>
      )}
      <Notice error={remove.error} />
    </section>
  );
}
