import type { Explanation } from '@chronicon/core/contract';
import type { Numbers } from '@chronicon/core/contract/display';
import { filterText } from '@chronicon/core/contract/figuresText';
import { Button, Drawer, Pagination } from '@mantine/core';
import { useState } from 'react';
import { useGet } from '../../api/hooks.ts';
import { filterWords } from '../../parts/filterWords.ts';
import { Loading } from '../../parts/Loading.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { ScrollBox } from '../../parts/ScrollBox.tsx';
import { momentOf, plainDate, plural } from '../../parts/when.ts';
import { partialText, valueText } from './figureText.ts';
import type { Questioned } from './view.ts';

interface Props {
  client: string;
  of: Questioned;
  numbers: Numbers;
  onClose: () => void;
}

const askOf = (of: Questioned): Record<string, string> => ({
  metric: of.metric,
  from: of.from,
  to: of.to,
  ...(of.without && { without: of.without.join(',') }),
  ...(of.filter.length > 0 && { filter: filterText(of.filter) }),
});

const dates = (r: { from: string; to: string }): string =>
  r.from === r.to ? plainDate(r.from) : `${plainDate(r.from)} – ${plainDate(r.to)}`;

const FEW = 4;

/** When the days came: the newest fetches, and how many more there were. */
function Fetches({ source }: { source: Explanation['sources'][number] }) {
  const [all, setAll] = useState(false);
  const shown = all ? source.fetches : source.fetches.slice(0, FEW);
  return (
    <div className="stack" style={{ gap: 2 }}>
      {shown.map((f) => (
        <span key={`${f.from} ${f.at}`} className="small">
          {dates(f)} <span className="muted">fetched {momentOf(f.at)}</span>
        </span>
      ))}
      {source.fetches.length > FEW && (
        <div>
          <Button size="compact-xs" variant="subtle" onClick={() => setAll(!all)}>
            {all ? 'Fewer' : `${source.fetches.length - FEW} more fetches`}
          </Button>
        </div>
      )}
    </div>
  );
}

/** The rows of one dataset behind the figure, page by page. */
function Rows({ client, of, source, numbers }: { client: string; of: Questioned; source: number; numbers: Numbers }) {
  const [page, setPage] = useState(1);
  const found = useGet(
    'GET /api/clients/:client/figures/rows',
    { params: { client }, query: { ...askOf(of), source: String(source), page: String(page) } },
    { keep: true },
  );
  if (found.error) return <Notice error={found.error} />;
  if (!found.data) return <Loading lines={4} />;
  const { columns, rows, total, pageSize } = found.data;
  return (
    <div className="stack">
      <ScrollBox label="Rows behind this figure" short>
        <table className="list figures">
          <thead>
            <tr>
              {columns.map((c, i) => (
                <th key={c} scope="col" className={typeof rows[0]?.[i] === 'number' ? 'num' : ''}>
                  {c}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {rows.map((row, i) => (
              <tr key={i}>
                {row.map((cell, c) => (
                  <td key={c} className={typeof cell === 'number' ? 'num' : ''}>
                    {typeof cell === 'number'
                      ? numbers.cell(cell, Number.isInteger(cell) ? 'count' : 'decimal')
                      : cell || '(unnamed)'}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </ScrollBox>
      {total > pageSize && (
        <Pagination
          size="sm"
          total={Math.ceil(total / pageSize)}
          value={page}
          onChange={setPage}
          aria-label="Pages of rows"
        />
      )}
    </div>
  );
}

function Source({
  source,
  index,
  client,
  of,
  numbers,
}: {
  source: Explanation['sources'][number];
  index: number;
  client: string;
  of: Questioned;
  numbers: Numbers;
}) {
  const [open, setOpen] = useState(false);
  return (
    <section className="stack" style={{ gap: 8 }}>
      <h3>
        {source.feed}, {source.dataset}
      </h3>
      <dl className="facts">
        <dt>Days</dt>
        <dd>
          {source.delivered === source.days ? (
            <span className="tone-good">● all {source.days} delivered</span>
          ) : (
            <span className="tone-attention">
              ◐ {source.delivered} of {source.days} delivered
            </span>
          )}
          {source.missing.length > 0 && <div className="small">missing: {source.missing.map(dates).join('; ')}</div>}
          {of.from < source.firstDay && <div className="small">measured since {plainDate(source.firstDay)}</div>}
        </dd>
        <dt>Fetched</dt>
        <dd>
          <Fetches source={source} />
        </dd>
        <dt>Rows</dt>
        <dd>
          {source.rows.toLocaleString('en-GB')}{' '}
          <Button size="compact-xs" variant="default" onClick={() => setOpen(!open)} aria-expanded={open}>
            {open ? 'Hide rows' : 'Show rows'}
          </Button>
        </dd>
      </dl>
      {open && <Rows client={client} of={of} source={index} numbers={numbers} />}
    </section>
  );
}

/** How one figure came about: formula, inputs, dates, filter, which days came when and from where, and the rows. */
export function ExplainPanel({ client, of, numbers, onClose }: Props) {
  const found = useGet('GET /api/clients/:client/figures/explain', { params: { client }, query: askOf(of) });
  const e = found.data;
  return (
    <Drawer
      opened
      onClose={onClose}
      position="right"
      size={520}
      title="How this figure is calculated"
      closeButtonProps={{ 'aria-label': 'Close' }}
      overlayProps={{ backgroundOpacity: 0.15 }}
    >
      {found.error && <Notice error={found.error} />}
      {!e && !found.error && <Loading />}
      {e && (
        <div className="stack" style={{ gap: 16 }}>
          <div>
            <span className="muted">{e.metric.label}</span>
            <div className="big-figure">{valueText(e.value, e.metric.unit, numbers)}</div>
            {partialText(e.value, numbers) && (
              <span className="tone-attention">◐ data for {partialText(e.value, numbers)} only</span>
            )}
          </div>
          <p style={{ margin: 0 }}>{e.metric.definition}</p>
          <dl className="facts">
            <dt>Dates</dt>
            <dd>{e.range.dates}</dd>
            <dt>Filter</dt>
            <dd>
              {e.filter.length === 0
                ? 'none (all data)'
                : filterWords(e.filter, {
                    dimensions: e.filter.map((f) => ({ key: f.dimension, label: f.label })),
                    segments: [],
                  })}
            </dd>
            <dt>Calculation</dt>
            <dd>{e.formula}</dd>
            {e.inputs.map((i) => (
              <div key={i.label} style={{ display: 'contents' }}>
                <dt>{i.label}</dt>
                <dd>
                  <b>{valueText(i.value, i.unit, numbers)}</b>
                </dd>
              </div>
            ))}
          </dl>
          {e.sources.map((s, i) => (
            <Source key={s.dataset + s.feed} source={s} index={i} client={client} of={of} numbers={numbers} />
          ))}
          {e.sources.length === 0 && <Notice>No feed provides the data for this figure.</Notice>}
          {e.sources.length > 1 && (
            <span className="small muted">Calculated from {plural(e.sources.length, 'dataset')}.</span>
          )}
        </div>
      )}
    </Drawer>
  );
}
