import type { Review } from '@chronicon/core/contract';
import { Button, Textarea } from '@mantine/core';
import { useState } from 'react';
import { call } from '../../api/call.ts';
import { useChange } from '../../api/hooks.ts';
import { fieldError, formError, Notice } from '../../parts/Notice.tsx';
import { Unsaved } from '../../parts/Unsaved.tsx';

/** What the manager writes in the mails of this edition alone, while it can still be written. */
export function NoteOfEdition({ edition, note }: { edition: Review['edition']; note: string }) {
  const [text, setText] = useState(note);
  const save = useChange((said: string) =>
    call('PUT /api/editions/:edition/note', { params: { edition: edition.id }, body: { note: said } }),
  );
  const changed = text.trim() !== note;
  return (
    <div className="stack tight">
      <Textarea
        label="Note in the email"
        description="For this edition only; shown where the email has a note"
        rows={3}
        resize="vertical"
        value={text}
        error={fieldError(save.error, 'note')}
        onChange={(e) => setText(e.currentTarget.value)}
      />
      <Unsaved when={changed && !save.isPending} what="your note" />
      {changed && (
        <div className="row">
          <Button size="compact-sm" loading={save.isPending} onClick={() => save.mutate(text.trim())}>
            Save note
          </Button>
          <Button size="compact-sm" variant="subtle" onClick={() => setText(note)}>
            Discard changes
          </Button>
        </div>
      )}
      <Notice error={formError(save.error, ['note'])} />
    </div>
  );
}
