import { Link } from 'react-router';
import { useGet } from '../../api/hooks.ts';
import { Loading } from '../../parts/Loading.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { PageTitle } from '../../parts/PageTitle.tsx';
import { momentOf, plural } from '../../parts/when.ts';

/** Designs that reports begin with: the agency's own, which reports follow, and those that come with the product. */
export function Templates() {
  const templates = useGet('GET /api/templates', {}, { live: true });
  if (!templates.data) {
    return <main className="place">{templates.error ? <Notice error={templates.error} /> : <Loading />}</main>;
  }
  const own = templates.data.filter((t) => t.id !== null);
  const ours = templates.data.filter((t) => t.id === null);
  return (
    <main className="place stack">
      <div className="place-head">
        <PageTitle of={['Templates']} />
        <h1>Templates</h1>
      </div>
      <section className="stack">
        {own.length === 0 ? (
          <p className="muted">
            Templates are reusable report designs. Open a good report and choose <b>Save as template</b> under More. New
            reports can start from it and be updated when it changes.
          </p>
        ) : (
          <table className="list">
            <thead>
              <tr>
                <th>Template</th>
                <th>Linked reports</th>
                <th>Last change</th>
              </tr>
            </thead>
            <tbody>
              {own.map((t) => (
                <tr key={t.id}>
                  <td>
                    <Link className="name-link" to={`/templates/${t.id}`}>
                      {t.name}
                    </Link>
                    <div className="small muted">{t.about}</div>
                  </td>
                  <td>
                    {t.reports === 0 ? <span className="muted">none yet</span> : plural(t.reports, 'report')}
                    {t.behind > 0 && (
                      <div>
                        <span className="tone-attention">◆ {t.behind} not up to date</span>
                      </div>
                    )}
                  </td>
                  <td>
                    {t.updatedAt && momentOf(t.updatedAt)} <span className="muted small">· version {t.version}</span>
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        )}
      </section>
      <section className="stack">
        <h2>Starters</h2>
        <span className="muted small">Start a new report from one of these, in its client’s language.</span>
        <ul className="plain starters">
          {ours.map((t) => (
            <li key={t.starter}>
              <b>{t.name}</b>
              <div className="small muted">{t.about}</div>
            </li>
          ))}
        </ul>
      </section>
    </main>
  );
}
