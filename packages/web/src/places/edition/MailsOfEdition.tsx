import type { Review } from '@chronicon/core/contract';
import { NativeSelect } from '@mantine/core';
import { useState } from 'react';
import { useGet } from '../../api/hooks.ts';
import { Loading } from '../../parts/Loading.tsx';
import { FIRST_VIEW, MailFrame, MailViewChoice } from '../../parts/MailFrame.tsx';
import { Notice } from '../../parts/Notice.tsx';

interface Reader {
  id: string;
  name: string;
  email: string;
}

/** Whose mails there are: of those who would get one, or of those to whom one was written. */
export function readersOf({ mails }: Pick<Review, 'mails'>): Reader[] {
  return mails.map(({ reader, name, email }) => ({ id: reader, name, email }));
}

/** The mail of an edition, reader by reader, as each gets it. */
export function MailsOfEdition({ edition, readers }: { edition: string; readers: readonly Reader[] }) {
  const [view, setView] = useState(FIRST_VIEW);
  const [chosen, setChosen] = useState<string | null>(null);
  const reader = readers.find((r) => r.id === chosen) ?? readers[0];
  const mail = useGet(
    'GET /api/editions/:edition/mails/:reader',
    { params: { edition, reader: reader?.id ?? '' }, query: { scheme: view.scheme } },
    { enabled: reader !== undefined, keep: true, live: true },
  );
  if (!reader) return <p className="muted">Not emailed to anyone.</p>;
  return (
    <div className="stack mail-of-edition">
      <div className="row">
        <NativeSelect
          aria-label="Email to"
          value={reader.id}
          data={readers.map((r) => ({ value: r.id, label: `${r.name} (${r.email})` }))}
          onChange={(e) => setChosen(e.currentTarget.value)}
        />
        <MailViewChoice view={view} onChange={setView} />
      </div>
      <Notice error={mail.error} />
      {mail.data ? (
        <MailFrame mail={mail.data} view={view} busy={mail.isFetching} />
      ) : (
        mail.isPending && <Loading lines={10} />
      )}
    </div>
  );
}
