import type { Client, ImportDetail } from '@chronicon/core/contract';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { call } from '../../api/call.ts';
import { Loading } from '../../parts/Loading.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { ScrollBox } from '../../parts/ScrollBox.tsx';
import { plainDate } from '../../parts/when.ts';
import type { Mapping } from './mapping.ts';

const count = (n: number) => n.toLocaleString('en-GB');
const cents = (n: number) => n.toLocaleString('en-GB', { minimumFractionDigits: 2, maximumFractionDigits: 2 });

/** Preview of the first rows, the moment that anything is chosen. */
export function Preview({
  client,
  file,
  mapping,
  nameOf,
  money,
}: {
  client: Client;
  file: ImportDetail;
  mapping: Mapping;
  nameOf: (key: string) => string;
  /** Figures that are money. */
  money: ReadonlySet<string>;
}) {
  const preview = useQuery({
    queryKey: ['preview', file.id, mapping, [...money]],
    queryFn: () =>
      call('POST /api/clients/:client/imports/:import/preview', {
        params: { client: client.id, import: file.id },
        body: { mapping, money: [...money] },
      }),
    placeholderData: keepPreviousData,
  });
  if (preview.error) return <Notice error={preview.error} />;
  if (!preview.data) return <Loading lines={3} />;
  const { fault, columns, rows } = preview.data;
  const measures = new Set(Object.values(mapping.columns).flatMap((u) => (u.as === 'measure' ? [u.key] : [])));
  if (fault) return <Notice>{fault.message}</Notice>;
  return (
    <ScrollBox label="Preview of the first rows">
      <table className="list">
        <thead>
          <tr>
            <th className="num">Row</th>
            {columns.map((c) => (
              <th key={c} className={measures.has(c) ? 'num' : ''}>
                {c === 'day' ? 'Day' : nameOf(c)}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map((r) => (
            <tr key={r.row}>
              <td className="num muted">{r.row}</td>
              {r.cells ? (
                r.cells.map((cell, i) => (
                  <td key={columns[i]} className={typeof cell === 'number' ? 'num' : ''}>
                    {typeof cell === 'number'
                      ? (money.has(columns[i]!) ? cents : count)(cell)
                      : i === 0
                        ? plainDate(cell)
                        : cell || <span className="muted">–</span>}
                  </td>
                ))
              ) : (
                <td colSpan={columns.length} className="tone-attention">
                  skipped: {r.problem}
                </td>
              )}
            </tr>
          ))}
        </tbody>
      </table>
    </ScrollBox>
  );
}
