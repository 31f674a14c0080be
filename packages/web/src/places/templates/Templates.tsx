import { Link } from 'react-router';
import { useGet } from '../../api/hooks.ts';
import { Loading } from '../../parts/Loading.tsx';
import { Notice } from '../../parts/Notice.tsx';
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
        <h1>Templates</h1>
      </div>
      <section className="stack">
        {own.length === 0 ? (
          <p className="muted">
            A template is a report’s design without its client. Open a report that came out well, and choose{' '}
            <b>Make a template of it</b> under More: others can begin with it, and follow when it is changed.
          </p>
        ) : (
          <table className="list">
            <thead>
              <tr>
                <th>Template</th>
                <th>Reports that follow it</th>
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
                        <span className="tone-attention">◆ {t.behind} without its last change</span>
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
        <h2>To begin with</h2>
        <span className="muted small">Every new report can begin with one of these, in its client’s language.</span>
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
