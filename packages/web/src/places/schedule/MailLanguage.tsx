import type { Client, ScheduleInput } from '@chronicon/core/contract';
import { Button } from '@mantine/core';
import { useState } from 'react';
import { Notice } from '../../parts/Notice.tsx';
import { mailTextOf, speaksAnother } from './mailLanguage.ts';

interface Props {
  client: Client;
  input: ScheduleInput;
  /** As it was opened: its text was written for that language. */
  initial: ScheduleInput;
  onChange: (patch: Partial<ScheduleInput>) => void;
}

/** Asks about a mail that a person worded, once pages and mails are to be in another language. */
export function MailLanguage({ client, input, initial, onChange }: Props) {
  const [kept, setKept] = useState<string | null>(null);
  const language = input.language ?? client.language;
  const text = mailTextOf(client, language);
  if (!text || kept === language || !speaksAnother(client, input, initial)) return null;
  const spoken = new Intl.DisplayNames('en-GB', { type: 'language' }).of(language.split('-')[0]!) ?? language;
  return (
    <Notice>
      The pages are now in {spoken}, but the email is your own text. Is it in {spoken}, too?
      <p className="small muted" style={{ margin: '4px 0', whiteSpace: 'pre-line' }}>
        In {spoken} it would read: “{text.subject}”
      </p>
      <div className="row">
        <Button size="compact-sm" onClick={() => onChange({ subject: text.subject, message: text.message })}>
          Use the {spoken} text
        </Button>
        <Button size="compact-sm" variant="default" onClick={() => setKept(language)}>
          Keep my text
        </Button>
      </div>
    </Notice>
  );
}
