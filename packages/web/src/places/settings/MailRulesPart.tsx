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
      ? 'What is not taken comes back to the address that reports come from; nobody reads it there by himself.'
      : `What is not taken comes back to ${bounces}, and is told at its reader.`,
    perMinute === null ? 'As many go as the mail server takes.' : `At most ${perMinute} mails go within a minute.`,
    quiet === null ? 'They go at any time.' : `None go from ${quiet.from} until ${quiet.until}, by the agency’s clock.`,
  ];
}

/** How mails go out: where they come back, how many, and when. */
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
    <section className="card stack settings-form" aria-label="How mails go out">
      <h2>How mails go out</h2>
      {mayChange ? (
        <form className="stack" onSubmit={submit}>
          <TextInput
            label="Mails come back to"
            description={
              listens === null
                ? 'An address with a plus and a word behind its name. Name its mailbox below, or set CHRONICON_BOUNCE_PORT.'
                : `An address whose mails, plus signs and all, are handed on to this server’s port ${listens}. Empty: nothing is heard of what comes back.`
            }
            placeholder="bounces@agency.example"
            value={rules.bounces}
            error={fieldError(save.error, 'bounces')}
            onChange={(e) => setRules({ ...rules, bounces: e.currentTarget.value.trim() })}
          />
          <Checkbox
            label="At most so many a minute"
            checked={rules.perMinute !== null}
            onChange={(e) => setRules({ ...rules, perMinute: e.currentTarget.checked ? 60 : null })}
          />
          {rules.perMinute !== null && (
            <NumberField
              label="Mails within a minute"
              value={rules.perMinute}
              min={1}
              max={MAILS_A_MINUTE}
              onChange={(n) => setRules({ ...rules, perMinute: n })}
            />
          )}
          <Checkbox
            label="None at night"
            description={`By the agency’s clock (${data.agency.zone}); what is due then goes afterwards`}
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
    <section className="card stack settings-form" aria-label="Signed mails">
      <h2>Signed mails</h2>
      <p className="muted small">
        Other servers trust mails more that are signed by the domain that they come from (DKIM). The key is made here
        and never leaves this server.
      </p>
      {dkim ? (
        <>
          <p className="tone-good">● Mails are signed as {dkim.domain}.</p>
          <TextInput label="Name of the record at the domain" readOnly value={dkim.name} />
          <div className="row">
            <TextInput label="Its text (TXT)" readOnly value={dkim.record} style={{ flex: 1 }} />
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
                {sure ? 'Forget the key: mails are signed no more' : 'Sign no more'}
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
              label="Name of the key"
              value={asked.selector}
              error={fieldError(make.error, 'selector')}
              onChange={(e) => setAsked({ ...asked, selector: e.currentTarget.value })}
            />
          </div>
          <FormEnd error={make.error} fields={['domain', 'selector']} pending={make.isPending} save="Make a key" />
        </form>
      ) : (
        <p className="muted">Mails are not signed.</p>
      )}
      <Notice error={remove.error} />
    </section>
  );
}
