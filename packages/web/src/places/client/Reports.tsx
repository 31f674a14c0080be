import type { Client } from '@chronicon/core/contract';
import { Button, Radio, Stack, TextInput } from '@mantine/core';
import { type FormEvent, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { call } from '../../api/call.ts';
import { useChange, useGet } from '../../api/hooks.ts';
import { Loading } from '../../parts/Loading.tsx';
import { fieldError, formError, Notice } from '../../parts/Notice.tsx';
import { momentOf } from '../../parts/when.ts';

function NewReport({ client }: { client: Client }) {
  const navigate = useNavigate();
  const starters = useGet('GET /api/starters');
  const [title, setTitle] = useState('Monthly overview');
  const [starter, setStarter] = useState('shop');
  const create = useChange(() =>
    call('POST /api/clients/:client/reports', { params: { client: client.id }, body: { title, starter } }),
  );
  const submit = (e: FormEvent) => {
    e.preventDefault();
    create.mutate(undefined, { onSuccess: (report) => navigate(`/reports/${report.id}`) });
  };
  return (
    <form className="card stack" onSubmit={submit} style={{ maxWidth: 560 }} noValidate>
      <h2>New report</h2>
      <TextInput
        label="Title"
        value={title}
        onChange={(e) => setTitle(e.currentTarget.value)}
        error={fieldError(create.error, 'title')}
      />
      <Radio.Group label="Begin with" value={starter} onChange={setStarter} error={fieldError(create.error, 'starter')}>
        <Stack gap={8} mt={6}>
          {starters.data?.map((s) => (
            <Radio key={s.key} value={s.key} label={s.label} description={s.about} />
          ))}
        </Stack>
      </Radio.Group>
      <Notice error={formError(create.error, ['title', 'starter'])} />
      <div>
        <Button type="submit" loading={create.isPending}>
          Make this report
        </Button>
      </div>
    </form>
  );
}

export function Reports({ client }: { client: Client }) {
  const reports = useGet('GET /api/clients/:client/reports', { params: { client: client.id } });
  if (!reports.data) return reports.error ? <Notice error={reports.error} /> : <Loading />;
  return (
    <div className="stack">
      {reports.data.length > 0 && (
        <table className="list">
          <thead>
            <tr>
              <th>Report</th>
              <th>Last change</th>
              <th>Goes out</th>
            </tr>
          </thead>
          <tbody>
            {reports.data.map((r) => (
              <tr key={r.id}>
                <td>
                  <Link className="name-link" to={`/reports/${r.id}`}>
                    {r.title}
                  </Link>
                </td>
                <td>{momentOf(r.updatedAt)}</td>
                <td>
                  {r.released === null ? (
                    <span className="tone-attention">■ never released</span>
                  ) : r.released.current ? (
                    <span className="tone-good">● as it is</span>
                  ) : (
                    <span className="tone-attention">◆ as of {momentOf(r.released.at)}</span>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <NewReport client={client} />
    </div>
  );
}
