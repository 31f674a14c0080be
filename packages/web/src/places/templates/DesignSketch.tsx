import type { Draft } from '@chronicon/core/contract/edits';

const NAMES: Record<string, string> = {
  kpi: 'KPI',
  kpiRow: 'KPI row',
  rhythm: 'Week rhythm',
  whatIf: 'What-if',
  workLog: 'Work log',
  notes: 'Notes on figures',
};
const nameOf = (kind: string): string => NAMES[kind] ?? kind.charAt(0).toUpperCase() + kind.slice(1);

/** The pages of a design as boxes: what stands where, without anybody's figures. */
export function DesignSketch({ document }: { document: Draft['document'] }) {
  return (
    <ol className="sketch" aria-label="Pages of the design">
      {document.pages.map((page) => (
        <li key={page.id}>
          <b className="small">{page.title}</b>
          <div className="sketch-page">
            {page.rows.map((row) => (
              <div key={row.id} className="sketch-row">
                {row.blocks.map((b) => (
                  <span key={b.id} style={{ flex: b.columns ?? 6 }}>
                    {nameOf(b.kind)}
                  </span>
                ))}
              </div>
            ))}
            {page.rows.length === 0 && <span className="muted small">Nothing on it</span>}
          </div>
        </li>
      ))}
    </ol>
  );
}
