import { NAME, TEXT } from '@chronicon/core/bounds';
import type { Follower } from '@chronicon/core/contract';
import { Button, Checkbox, TextInput } from '@mantine/core';
import { type FormEvent, useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { call, type Reply } from '../../api/call.ts';
import { useChange, useGet } from '../../api/hooks.ts';
import { FormEnd } from '../../parts/FormEnd.tsx';
import { Loading } from '../../parts/Loading.tsx';
import { fieldError, Notice } from '../../parts/Notice.tsx';
import { Pages } from '../../parts/Pages.tsx';
import { PageTitle } from '../../parts/PageTitle.tsx';
import { plural } from '../../parts/when.ts';
import { useSession } from '../../shell/sessionContext.ts';
import { DesignSketch } from './DesignSketch.tsx';

type TemplateData = Reply<'GET /api/templates/:template'>;

function NameForm({ template }: { template: TemplateData }) {
  const [name, setName] = useState(template.name);
  const [about, setAbout] = useState(template.about);
  const save = useChange(() =>
    call('PUT /api/templates/:template', { params: { template: template.id }, body: { name, about } }),
  );
  const submit = (e: FormEvent) => {
    e.preventDefault();
    save.mutate();
  };
  const changed = name !== template.name || about !== template.about;
  return (
    <form className="card stack" onSubmit={submit} noValidate>
      <TextInput
        label="Name"
        maxLength={NAME}
        value={name}
        onChange={(e) => setName(e.currentTarget.value)}
        error={fieldError(save.error, 'name')}
      />
      <TextInput
        label="Description"
        maxLength={TEXT.about}
        value={about}
        onChange={(e) => setAbout(e.currentTarget.value)}
      />
      <FormEnd error={save.error} fields={['name']} pending={save.isPending} disabled={!changed} />
    </form>
  );
}

/** One report that follows, with what the newest version changes in it. */
function Line({
  follower,
  newest,
  chosen,
  onChoose,
  onUndo,
}: {
  follower: Follower;
  newest: number;
  chosen: boolean;
  onChoose: (chosen: boolean) => void;
  onUndo: (() => void) | null;
}) {
  const { report, title, client, version, changes, leaves } = follower;
  const behind = version < newest;
  return (
    <tr>
      <td>
        {behind && (
          <Checkbox
            aria-label={`${title} of ${client.name} uses it`}
            checked={chosen}
            onChange={(e) => onChoose(e.currentTarget.checked)}
          />
        )}
      </td>
      <td>
        <b>{client.name}</b>
        <div>
          <Link to={`/reports/${report}`}>{title}</Link>
        </div>
      </td>
      <td>
        {!behind && <span className="tone-good">● up to date</span>}
        {behind && changes.length === 0 && leaves.length === 0 && <span className="muted">No changes.</span>}
        <ul className="plain">
          {changes.map((c) => (
            <li key={c}>{c}</li>
          ))}
          {leaves.map((c) => (
            <li key={c} className="muted">
              Skipped, as it was deleted: {c}
            </li>
          ))}
        </ul>
      </td>
      <td>
        {onUndo && (
          <Button
            size="compact-xs"
            variant="default"
            aria-label={`Undo in ${title} of ${client.name}`}
            onClick={onUndo}
          >
            Undo
          </Button>
        )}
      </td>
    </tr>
  );
}

/** A template, the reports that follow it, and what its last change would do to each. */
export function Template() {
  const { template: id = '' } = useParams();
  const { member } = useSession();
  const navigate = useNavigate();
  const params = { template: id };
  const template = useGet('GET /api/templates/:template', { params });
  const [page, setPage] = useState('');
  const following = useGet('GET /api/templates/:template/following', { params, query: { page: page || '1' } });
  const [chosen, setChosen] = useState<readonly string[] | null>(null);
  const follow = useChange((reports: string[]) =>
    call('POST /api/templates/:template/follow', { params, body: { version: template.data!.version, reports } }),
  );
  const undo = useChange(async ({ report, kept }: { report: string; kept: string }) => {
    const { version } = await call('GET /api/reports/:report', { params: { report } });
    await call('POST /api/reports/:report/versions/:kept/restore', { params: { report, kept }, body: { version } });
  });
  const remove = useChange(() => call('DELETE /api/templates/:template', { params }));
  const [sure, setSure] = useState(false);
  if (!template.data || !following.data) {
    return <main className="place">{template.error ? <Notice error={template.error} /> : <Loading />}</main>;
  }
  const { name, version, document } = template.data;
  const behind = following.data.followers.filter((f) => f.version < version);
  // All that are behind are offered; whoever presses sees first what changes in each.
  const reports = behind.map((f) => f.report).filter((r) => chosen === null || chosen.includes(r));
  const mayMake = member.role !== 'reviewer';
  return (
    <main className="place stack">
      <div className="place-head">
        <PageTitle of={[name]} />
        <h1>{name}</h1>
        <span className="muted">version {version}</span>
        <div className="acts">
          <Link to="/templates">All templates</Link>
        </div>
      </div>
      <div className="columns two">
        <section className="stack">
          <h2>Linked reports</h2>
          <span className="muted small">
            To change a template, edit a report that uses it and choose “Update template” under More. Then update the
            other reports here; each stays a draft and can be undone.
          </span>
          {following.data.total === 0 ? (
            <span className="muted">None yet. Any client’s new report can start from it.</span>
          ) : (
            <table className="list">
              <thead>
                <tr>
                  <th>
                    <span className="reading-only">Follows</span>
                  </th>
                  <th>Report</th>
                  <th>Changes</th>
                  <th>
                    <span className="reading-only">Actions</span>
                  </th>
                </tr>
              </thead>
              <tbody>
                {following.data.followers.map((f) => (
                  <Line
                    key={f.report}
                    follower={f}
                    newest={version}
                    chosen={reports.includes(f.report)}
                    onChoose={(on) => setChosen(on ? [...reports, f.report] : reports.filter((r) => r !== f.report))}
                    onUndo={f.undo !== null && mayMake ? () => undo.mutate({ report: f.report, kept: f.undo! }) : null}
                  />
                ))}
              </tbody>
            </table>
          )}
          <Pages of={following.data} page={page} onPage={setPage} />
          <Notice error={follow.error ?? undo.error} />
          {behind.length > 0 && mayMake && (
            <div className="row">
              <Button
                loading={follow.isPending}
                disabled={reports.length === 0}
                onClick={() => follow.mutate(reports, { onSuccess: () => setChosen(null) })}
              >
                Update {plural(reports.length, 'report')}
              </Button>
              <span className="muted small">
                Their drafts change. Editions change once each is released.
                {following.data.behind > behind.length &&
                  ` ${plural(following.data.behind - behind.length, 'more report')} can be updated after them.`}
              </span>
            </div>
          )}
        </section>
        <section className="stack">
          {mayMake && <NameForm key={`${name} ${version}`} template={template.data} />}
          <DesignSketch document={document} />
          {(member.role === 'owner' || member.role === 'manager') && (
            <div className="row">
              {sure ? (
                <>
                  <span className="small">Reports stay unchanged but are no longer linked.</span>
                  <Button
                    size="compact-sm"
                    color="red"
                    loading={remove.isPending}
                    onClick={() => remove.mutate(undefined, { onSuccess: () => navigate('/templates') })}
                  >
                    Remove “{name}”
                  </Button>
                  <Button size="compact-sm" variant="subtle" onClick={() => setSure(false)}>
                    Keep it
                  </Button>
                </>
              ) : (
                <Button size="compact-sm" variant="subtle" color="red" onClick={() => setSure(true)}>
                  Remove template
                </Button>
              )}
              <Notice error={remove.error} />
            </div>
          )}
        </section>
      </div>
    </main>
  );
}
