import { ROLES } from '@chronicon/core/contract/display';
import { useGet } from '../../api/hooks.ts';
import { ScrollBox } from '../../parts/ScrollBox.tsx';

/** Role permissions, in words. */
export function RolesTable() {
  const roles = useGet('GET /api/roles');
  if (!roles.data) return null;
  return (
    <section className="card stack" aria-label="Role permissions">
      <h2>Role permissions</h2>
      <ScrollBox label="Role permissions">
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
      <span className="muted small">Owners see every client; others see the clients assigned to them.</span>
    </section>
  );
}
