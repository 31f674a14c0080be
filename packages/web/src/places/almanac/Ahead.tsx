import { Button } from '@mantine/core';
import { useGet } from '../../api/hooks.ts';
import { DateField } from '../../parts/DateField.tsx';
import { Loading } from '../../parts/Loading.tsx';
import { fieldError, formError, Notice } from '../../parts/Notice.tsx';
import { Pages } from '../../parts/Pages.tsx';
import { dayWithYear, plural } from '../../parts/when.ts';
import { useSession } from '../../shell/sessionContext.ts';
import { AlmanacHead } from './AlmanacHead.tsx';
import { CalendarLink } from './CalendarLink.tsx';
import { daysAfter } from './days.ts';
import { useAddress } from './useAddress.ts';

const MONTH = 30;

/** What would go out between two days, covering what, to whom, with which warnings. */
export function Ahead() {
  const { of, set, scope } = useAddress();
  const { now } = useSession();
  const from = of('from') || now.slice(0, 10);
  const to = of('to') || daysAfter(from, MONTH);
  const page = of('page');
  const query = { ...scope, from, to };
  const ahead = useGet(
    'GET /api/look-ahead',
    { query: { ...query, ...(page && { page }) } as never },
    { keep: true, live: true },
  );
  const { data } = ahead;
  const warned = data?.rows.filter((r) => r.warnings.length > 0).length ?? 0;
  return (
    <main className="place">
      <AlmanacHead title="Look ahead" />
      <div className="row tools" style={{ alignItems: 'end' }}>
        <DateField
          label="From"
          value={from}
          error={fieldError(ahead.error, 'from')}
          onChange={(date) => set({ from: date })}
        />
        <DateField label="To" value={to} error={fieldError(ahead.error, 'to')} onChange={(date) => set({ to: date })} />
        <Button component="a" variant="outline" href={`/api/look-ahead/table?${new URLSearchParams(query)}`}>
          As CSV
        </Button>
        {data && (
          <span className="muted">
            {plural(data.total, 'run')}
            {warned > 0 && `, ${warned} to check`}
          </span>
        )}
      </div>
      <Notice error={formError(ahead.error, ['from', 'to'])} />
      {!data && !ahead.error && <Loading lines={10} />}
      {data && data.rows.length === 0 && <p className="muted">Nothing scheduled between these dates.</p>}
      {data && data.rows.length > 0 && (
        <table className="list">
          <thead>
            <tr>
              <th>When</th>
              <th>What</th>
              <th>Covers</th>
              <th>To</th>
              <th>Warnings</th>
            </tr>
          </thead>
          <tbody>
            {data.rows.map((r, i) => (
              <tr key={`${r.at} ${i}`}>
                <td style={{ whiteSpace: 'nowrap' }}>
                  <b>{dayWithYear(r.date)}</b> {r.time}
                  <div className="muted small">{r.zone}</div>
                </td>
                <td>
                  <b>{r.title}</b>
                  <div className="muted small">{r.clientName}</div>
                </td>
                <td>
                  {r.period}
                  {r.compared && <div className="muted small">compared with {r.compared}</div>}
                </td>
                <td>{r.readers.join(', ') || <span className="muted">nobody</span>}</td>
                <td className="small tone-attention">
                  {r.warnings.map((w) => (
                    <div key={w}>{w}</div>
                  ))}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {data && <Pages of={data} page={page} onPage={(p) => set({ page: p })} />}
      <CalendarLink />
    </main>
  );
}
