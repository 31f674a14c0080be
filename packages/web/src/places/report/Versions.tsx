import { NAME } from '@chronicon/core/bounds';
import type { Client, Report, ReportVersion } from '@chronicon/core/contract';
import { Button, TextInput } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { type FormEvent, useState } from 'react';
import { Link, useNavigate, useParams, useSearchParams } from 'react-router';
import { type ApiError, call, type Reply } from '../../api/call.ts';
import { useChange, useGet } from '../../api/hooks.ts';
import { Loading } from '../../parts/Loading.tsx';
import { fieldError, formError, Notice } from '../../parts/Notice.tsx';
import { PageTitle } from '../../parts/PageTitle.tsx';
import { ScenePage } from '../../parts/ScenePage.tsx';
import { momentOf, plural } from '../../parts/when.ts';
import { useScopeIs } from '../../shell/scope.ts';
import { useSession } from '../../shell/sessionContext.ts';
import { parseLook } from './looks.ts';

type Sheets = Reply<'POST /api/reports/:report/preview'>;

const KINDS: Record<ReportVersion['kind'], string> = {
  release: 'Released',
  kept: 'Saved',
  before: 'Saved automatically',
};

/** What a version is called: its name, or that it went out. */
const nameOf = (v: Pick<ReportVersion, 'name' | 'kind'>): string =>
  v.name || (v.kind === 'release' ? 'A release' : 'A draft');

function useSheets(
  report: string,
  of: { title: string; document: Report['document'] } | undefined,
  look: string | null,
) {
  return useQuery<Sheets, ApiError>({
    queryKey: ['sheets', report, look, JSON.stringify(of)],
    enabled: of !== undefined,
    queryFn: ({ signal }) =>
      call('POST /api/reports/:report/preview', {
        params: { report },
        body: { ...of!, have: [], look: parseLook(look) ?? { kind: 'own' } },
        signal,
      }),
    staleTime: 60_000,
  });
}

/** Sheet by sheet, what a version was beside what the draft is; sheets that are the same are told, not shown. */
function Compared({ client, then, now, name }: { client: Client; then: Sheets; now: Sheets; name: string }) {
  const pictures = `/api/clients/${client.id}/pictures`;
  const pairs = Array.from({ length: Math.max(then.pages.length, now.pages.length) }, (_, i) => ({
    i,
    was: then.pages[i],
    is: now.pages[i],
  }));
  const differ = pairs.filter((p) => p.was?.hash !== p.is?.hash);
  if (differ.length === 0) return <p className="tone-good">● No differences for these dates.</p>;
  return (
    <div className="stack">
      <span className="muted small">
        {plural(differ.length, 'page differs', 'pages differ')} of {pairs.length}.
      </span>
      <div className="two-sheets">
        <b>{name}</b>
        <b>The draft now</b>
      </div>
      {pairs.map((p) =>
        p.was?.hash === p.is?.hash ? (
          <span key={p.i} className="muted small">
            Page {p.i + 1} is the same.
          </span>
        ) : (
          <div key={p.i} className="two-sheets">
            {[p.was, p.is].map((sheet, side) =>
              sheet?.page ? (
                <ScenePage key={side === 0 ? 'then' : 'now'} page={sheet.page} lang={now.lang} pictures={pictures} />
              ) : (
                <span key={side === 0 ? 'then' : 'now'} className="no-sheet muted">
                  No page {p.i + 1}
                </span>
              ),
            )}
          </div>
        ),
      )}
    </div>
  );
}

/** One version: its name, what it was beside the draft, and the way back to it. */
function OneVersion({
  report,
  client,
  version,
  look,
  onNamed,
}: {
  report: Report;
  client: Client;
  version: ReportVersion;
  look: string | null;
  onNamed: () => void;
}) {
  const navigate = useNavigate();
  const { member } = useSession();
  const params = { report: report.id, kept: version.id };
  const whole = useGet('GET /api/reports/:report/versions/:kept', { params });
  const then = useSheets(report.id, whole.data && { title: whole.data.title, document: whole.data.document }, look);
  const now = useSheets(report.id, { title: report.title, document: report.document }, look);
  const [name, setName] = useState(version.name);
  const save = useChange(() => call('PUT /api/reports/:report/versions/:kept', { params, body: { name } }));
  const restore = useChange(() =>
    call('POST /api/reports/:report/versions/:kept/restore', { params, body: { version: report.version } }),
  );
  const submit = (e: FormEvent) => {
    e.preventDefault();
    save.mutate(undefined, { onSuccess: onNamed });
  };
  return (
    <section className="stack">
      {member.role !== 'reviewer' && (
        <form className="row" onSubmit={submit} noValidate>
          <TextInput
            aria-label="Version name"
            placeholder={nameOf(version)}
            maxLength={NAME}
            value={name}
            onChange={(e) => setName(e.currentTarget.value)}
            error={fieldError(save.error, 'name')}
          />
          <Button type="submit" variant="default" disabled={name === version.name} loading={save.isPending}>
            Save name
          </Button>
          <Button
            loading={restore.isPending}
            onClick={() => restore.mutate(undefined, { onSuccess: () => navigate(`/reports/${report.id}`) })}
          >
            Restore as draft
          </Button>
          <span className="muted small">The current draft is kept as a version.</span>
        </form>
      )}
      <Notice error={restore.error ?? formError(save.error, ['name']) ?? then.error ?? now.error} />
      {then.data && now.data ? (
        <Compared client={client} then={then.data} now={now.data} name={nameOf(version)} />
      ) : (
        <Loading lines={8} />
      )}
    </section>
  );
}

/** What a report was: its releases and the versions that were kept, each to be held beside the draft and brought back. */
export function Versions() {
  const { report: id = '' } = useParams();
  const [search, setSearch] = useSearchParams();
  const params = { report: id };
  const report = useGet('GET /api/reports/:report', { params });
  const versions = useGet('GET /api/reports/:report/versions', { params });
  const clientId = report.data?.clientId ?? '';
  const client = useGet('GET /api/clients/:client', { params: { client: clientId } }, { enabled: clientId !== '' });
  useScopeIs(clientId);
  const error = report.error ?? versions.error ?? client.error;
  if (!report.data || !versions.data || !client.data) {
    return <main className="place">{error ? <Notice error={error} /> : <Loading />}</main>;
  }
  const of = search.get('of');
  const look = search.get('look');
  const chosen = versions.data.find((v) => v.id === of) ?? versions.data[0];
  return (
    <main className="place wide stack">
      <div className="place-head">
        <PageTitle of={[`Versions of “${report.data.title}”`]} />
        <h1>Versions of “{report.data.title}”</h1>
        <div className="acts">
          <Link to={`/reports/${id}${look ? `?look=${look}` : ''}`}>Back to the report</Link>
        </div>
      </div>
      {chosen === undefined ? (
        <p className="muted">
          No versions yet. One is saved at each release or when you choose “Keep this version” under More.
        </p>
      ) : (
        <div className="columns versions">
          <nav aria-label="Versions">
            <ul className="plain">
              {versions.data.map((v) => (
                <li key={v.id}>
                  <button
                    type="button"
                    className="version"
                    aria-pressed={v.id === chosen.id}
                    onClick={() => setSearch({ of: v.id, ...(look && { look }) }, { replace: true })}
                  >
                    <b>{nameOf(v)}</b>
                    <span className="small muted">
                      {KINDS[v.kind]} {momentOf(v.at)}
                      {v.by && `, ${v.by}`}
                    </span>
                  </button>
                </li>
              ))}
            </ul>
          </nav>
          <OneVersion
            key={`${chosen.id} ${chosen.name}`}
            report={report.data}
            client={client.data}
            version={chosen}
            look={look}
            onNamed={() => versions.refetch()}
          />
        </div>
      )}
    </main>
  );
}
