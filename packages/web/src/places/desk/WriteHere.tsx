import type { Need } from '@chronicon/core/contract';
import { Button, Textarea } from '@mantine/core';
import { type FormEvent, useState } from 'react';
import { Link } from 'react-router';
import { call } from '../../api/call.ts';
import { useChange } from '../../api/hooks.ts';
import { fieldError, formError, Notice } from '../../parts/Notice.tsx';
import { Unsaved } from '../../parts/Unsaved.tsx';

interface Props {
  need: Need;
  write: NonNullable<Need['write']>;
  /** Whether what is written goes out with no more ado; else a manager releases it. */
  mayRelease: boolean;
  onDone: () => void;
}

/** Words for a period, written where they are missed: nothing else of the report is released with them. */
export function WriteHere({ need, write, mayRelease, onDone }: Props) {
  const { report, block, from, to, draft } = write;
  const [text, setText] = useState(draft);
  const save = useChange(() =>
    call('PUT /api/reports/:report/commentary', {
      params: { report },
      body: { block, from, to, text, before: draft, release: mayRelease },
    }),
  );
  const submit = (e: FormEvent) => {
    e.preventDefault();
    save.mutate(undefined, { onSuccess: ({ over }) => over === null && onDone() });
  };
  return (
    <form className="stack write-here" onSubmit={submit} noValidate aria-label={need.title}>
      <Unsaved when={text !== draft && !save.isPending && !save.isSuccess} what="this commentary" />
      <Textarea
        label="Commentary"
        aria-label={`Commentary: ${need.title}`}
        description={
          mayRelease
            ? 'Saved text appears on the page as written. Nothing else in the report changes.'
            : 'A manager must release it.'
        }
        rows={4}
        value={text}
        onChange={(e) => setText(e.currentTarget.value)}
        error={fieldError(save.error, 'text')}
        autoFocus
      />
      {save.data?.over && (
        <Notice>
          Someone else wrote this while you did. Yours is saved; theirs was: “{save.data.over}”{' '}
          <Button size="compact-xs" variant="default" onClick={onDone}>
            OK
          </Button>
        </Notice>
      )}
      <Notice error={formError(save.error, ['text'])} />
      <div className="row">
        <Button type="submit" size="compact-md" loading={save.isPending} disabled={text.trim() === ''}>
          Save
        </Button>
        <Button variant="subtle" size="compact-md" onClick={onDone}>
          Cancel
        </Button>
        <Link className="small" to={need.action.to}>
          View on the page
        </Link>
      </div>
    </form>
  );
}
