import type { Client, ScheduleInput } from '@chronicon/core/contract';
import { Button, Menu, NativeSelect, Textarea, TextInput } from '@mantine/core';
import { useDebouncedValue } from '@mantine/hooks';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { type ApiError, call } from '../../api/call.ts';
import { useGet } from '../../api/hooks.ts';
import { Loading } from '../../parts/Loading.tsx';
import { FIRST_VIEW, MailFrame, MailViewChoice } from '../../parts/MailFrame.tsx';
import { fieldError, Notice } from '../../parts/Notice.tsx';
import { MailFiles } from './MailFiles.tsx';
import { MailPartRow } from './MailPartRow.tsx';
import { addable, freshPart, type Mail, moved, PART_WORDS, type Part } from './mailParts.ts';

/** Milliseconds without a key after which the mail is shown anew. */
const PAUSE = 350;

interface Props {
  client: Client;
  input: ScheduleInput;
  error: ApiError | null;
  onChange: (patch: Partial<ScheduleInput>) => void;
}

/** Email as its readers get it, beside what it is made of. */
export function MailRoom({ client, input, error, onChange }: Props) {
  const { mail } = input;
  const set = (patch: Partial<Mail>) => onChange({ mail: { ...mail, ...patch } });
  const setPart = (at: number, part: Part) => set({ parts: mail.parts.map((p, i) => (i === at ? part : p)) });
  const offered = useGet(
    'GET /api/reports/:report/mail-parts',
    { params: { report: input.reportId } },
    { enabled: input.reportId !== '' },
  );
  return (
    <section className="card mail-room" aria-label="Email">
      <h2>Email</h2>
      <div className="mail-columns">
        <div className="stack">
          <TextInput
            label="Subject"
            value={input.subject}
            onChange={(e) => onChange({ subject: e.currentTarget.value })}
            error={fieldError(error, 'subject')}
          />
          <TextInput
            label="Preview"
            description="Preview text shown after the subject. Leave empty to use the opening sentence"
            value={mail.preview}
            onChange={(e) => set({ preview: e.currentTarget.value })}
            error={fieldError(error, 'mail.preview')}
          />
          <Textarea
            label="Message"
            description="Fields: {{contact.firstName | there}}, {{period.label}}, {{figure.visits}}, {{change.revenue}} and more"
            rows={6}
            resize="vertical"
            value={input.message}
            onChange={(e) => onChange({ message: e.currentTarget.value })}
            error={fieldError(error, 'message')}
          />
          <div>
            <b>Email content</b>
            <ol className="mail-parts">
              {mail.parts.map((part, at) => (
                <MailPartRow
                  // Parts have no ids: what tells them apart is where they stand.
                  key={`${part.kind}-${at}`}
                  part={part}
                  at={at}
                  of={mail.parts.length}
                  offered={offered.data ?? []}
                  error={error}
                  onChange={(p) => setPart(at, p)}
                  onMove={(by) => set({ parts: moved(mail.parts, at, by) })}
                  onRemove={() => set({ parts: mail.parts.filter((_, i) => i !== at) })}
                />
              ))}
            </ol>
            <Menu position="bottom-start" withinPortal transitionProps={{ duration: 0 }}>
              <Menu.Target>
                <Button size="compact-sm" variant="default">
                  Add a part
                </Button>
              </Menu.Target>
              <Menu.Dropdown>
                {addable(mail.parts).map((kind) => (
                  <Menu.Item key={kind} onClick={() => set({ parts: [...mail.parts, freshPart(kind)] })}>
                    {PART_WORDS[kind].label} <span className="muted small">{PART_WORDS[kind].about}</span>
                  </Menu.Item>
                ))}
              </Menu.Dropdown>
            </Menu>
            {fieldError(error, 'mail.parts') && (
              <div className="tone-wrong small">{fieldError(error, 'mail.parts')}</div>
            )}
          </div>
          <MailFiles client={client} files={mail.files} error={error} onChange={(files) => set({ files })} />
        </div>
        <MailAsRead client={client} input={input} />
      </div>
    </section>
  );
}

/** What the mail would be with the figures of the last period, for whoever of its readers is chosen. */
function MailAsRead({ client, input }: { client: Client; input: ScheduleInput }) {
  const [view, setView] = useState(FIRST_VIEW);
  const [reader, setReader] = useState<string | null>(null);
  const { reportId, period, comparison, assumed, filter, pages, language, formats, fileName } = input;
  const { readers, groups, mailing, subject, message, mail } = input;
  const said = { reportId, period, comparison, assumed, filter, pages, language, formats, fileName };
  const whole = { ...said, readers, groups, mailing, subject, message, mail };
  // What is not filled in yet is left out of what is shown, not refused.
  const parts = mail.parts.filter(
    (p) => !(p.kind === 'text' && p.text.trim() === '') && !(p.kind === 'button' && !/^https?:\/\/.+\../.test(p.link)),
  );
  const shownParts = parts.map((p) => (p.kind === 'button' && p.label.trim() === '' ? { ...p, label: '…' } : p));
  const [asked] = useDebouncedValue(
    JSON.stringify({ ...whole, mail: { ...mail, parts: shownParts }, reader, scheme: view.scheme }),
    PAUSE,
  );
  const shown = useQuery({
    queryKey: ['mail', client.id, asked],
    queryFn: ({ signal }) =>
      call('POST /api/clients/:client/schedules/mail', {
        params: { client: client.id },
        body: JSON.parse(asked) as never,
        signal,
      }),
    placeholderData: keepPreviousData,
    enabled: reportId !== '',
  });
  const { data } = shown;
  return (
    <div className="stack mail-as-read">
      <MailViewChoice view={view} onChange={setView} />
      {data && data.readers.length > 0 && (
        <NativeSelect
          label="Email to"
          value={reader ?? data.readers[0]!.id}
          data={data.readers.map((r) => ({ value: r.id, label: `${r.name} (${r.email})` }))}
          onChange={(e) => setReader(e.currentTarget.value)}
        />
      )}
      {data && <span className="muted small">With data for {data.period}, the last period as of today.</span>}
      {data?.problem && <Notice>{data.problem}</Notice>}
      {data && data.lacks.length > 0 && <Notice>Data is missing; an edition would wait. {data.lacks.join(' ')}</Notice>}
      <Notice error={shown.error} />
      {data?.mail ? (
        <MailFrame mail={data.mail} view={view} busy={shown.isFetching} />
      ) : (
        shown.isPending && reportId !== '' && <Loading lines={10} />
      )}
    </div>
  );
}
