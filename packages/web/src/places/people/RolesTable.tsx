import { ROLES } from '@chronicon/core/contract/display';
import { useGet } from '../../api/hooks.ts';
import { ScrollBox } from '../../parts/ScrollBox.tsx';

/** What each role may do, in words. */
export function RolesTable() {
  const roles = useGet('GET /api/roles');
  if (!roles.data) return null;
  return (
    <section className="card stack" aria-label="What each role may do">
      <h2>What each role may do</h2>
      <ScrollBox label="What each role may do">
        <table className="list">
          <thead>
            <tr>
              <th>
                <span className="reading-only">What</span>
              </th>
              {ROLES.map((r) => (
                <th key={r}>{r}</th>
              ))}
            </tr>
          </thead>
          <tbody>
            {roles.data.map(({ label, roles: may }) => (
              <tr key={label}>
                <td>{label}</td>
                {ROLES.map((r) => (
                  <td key={r}>
                    {may.includes(r) ? <span className="tone-good">● yes</span> : <span className="muted">–</span>}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </ScrollBox>
      <span className="muted small">Owners see every client; the others see those that they are assigned to.</span>
    </section>
  );
}
