import type { PartProps } from './part.ts';

/** What the environment of this server sets: to be read here, and changed there. */
export function ServerPart({ data }: PartProps) {
  return (
    <section className="stack" aria-label="This server">
      <p className="muted small">Set by environment variables at startup (bold = set).</p>
      <table className="list">
        <thead>
          <tr>
            <th>Variable</th>
            <th>Is</th>
            <th>Meaning</th>
          </tr>
        </thead>
        <tbody>
          {data.environment.map((e) => (
            <tr key={e.name}>
              <td>
                <code>{e.name}</code>
              </td>
              <td className="breaks">{e.set ? <b>{e.value}</b> : <span className="muted">{e.value}</span>}</td>
              <td>{e.about}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
