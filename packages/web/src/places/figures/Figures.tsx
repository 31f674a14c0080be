import type { Client, Figures as FiguresReply, MetricOffer } from '@chronicon/core/contract';
import { createNumbers, type Numbers } from '@chronicon/core/contract/display';
import { Button, Menu, TextInput } from '@mantine/core';
import { useClipboard } from '@mantine/hooks';
import { useMemo } from 'react';
import { Link } from 'react-router';
import { useGet } from '../../api/hooks.ts';
import { Choice } from '../../parts/Choice.tsx';
import { Loading } from '../../parts/Loading.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { PageTitle } from '../../parts/PageTitle.tsx';
import { useClientNames } from '../../parts/useClientNames.ts';
import { useStable } from '../../parts/useStable.ts';
import { useGroupScope, useScope } from '../../shell/scope.ts';
import { useSession } from '../../shell/sessionContext.ts';
import { isCut } from './cutSteps.ts';
import { DayMarks } from './DayMarks.tsx';
import { ExplainPanel } from './ExplainPanel.tsx';
import { FiguresChart } from './FiguresChart.tsx';
import { FiguresSentence } from './FiguresSentence.tsx';
import { FiguresTable, rowsOf, sorted, tableText } from './FiguresTable.tsx';
import { partialText, totalTexts, valueText } from './figureText.ts';
import { RhythmPart } from './RhythmPart.tsx';
import { useView } from './useView.ts';
import { figuresAsk, type View } from './view.ts';
import { WhyPart } from './WhyPart.tsx';

/** Asks whose figures to show: there are none of all clients together. */
function ChooseClient() {
  const names = useClientNames({ scope: useGroupScope() });
  return (
    <main className="place">
      <div className="place-head">
        <PageTitle of={['Figures']} />
        <h1>Figures</h1>
        <span className="muted">Explore a client’s data and see how each number is calculated.</span>
      </div>
      <section className="card stack" style={{ maxWidth: 560 }}>
        <h2>Choose a client</h2>
        {names.isLoading && <Loading lines={4} />}
        {(names.hasMore || names.text !== '') && (
          <TextInput label="Find a client" value={names.text} onChange={(e) => names.setText(e.currentTarget.value)} />
        )}
        {names.clients.map((c) => (
          <Link key={c.id} className="name-link row" to={`/figures?client=${c.id}`}>
            <span className="chip" style={{ background: c.colour, margin: 0 }} />
            {c.name}
          </Link>
        ))}
        {!names.isLoading && names.clients.length === 0 && (
          <span className="muted">{names.text === '' ? 'No client yet.' : 'No client has this name.'}</span>
        )}
      </section>
    </main>
  );
}

interface PartProps {
  client: Client;
  offers: readonly MetricOffer[];
  dimensions: readonly { key: string; label: string }[];
  view: View;
  change: (patch: Partial<View>) => void;
  figures: FiguresReply;
  numbers: Numbers;
}

/** The chosen metrics with their totals; one of them is on the chart. */
function Totals({ view, change, figures, numbers }: PartProps) {
  return (
    <ul className="totals" aria-label="Totals">
      {figures.metrics.map((m, i) => {
        const { current, compared } = figures.totals[i]!;
        const known = 'value' in current;
        const { moved, ...texts } = totalTexts(current, compared, m, numbers);
        const partial = partialText(current, numbers);
        const odd = figures.odd[i];
        const left = figures.excluded[i];
        return (
          <li key={m.key} className={m.key === view.chart ? 'chosen' : ''}>
            <button
              type="button"
              className="total-name"
              aria-pressed={m.key === view.chart}
              title={m.definition}
              onClick={() => change({ chart: m.key })}
            >
              {m.label}
            </button>
            {known ? (
              <button
                type="button"
                className="figure total-figure"
                aria-label={`${m.label}, ${figures.period.dates}: ${texts.current}. How it’s calculated`}
                onClick={() =>
                  change({
                    of: {
                      metric: m.key,
                      from: figures.period.from,
                      to: figures.period.to,
                      ...(left && left.period.length > 0 && { without: left.period }),
                      filter: view.filter,
                    },
                  })
                }
              >
                {texts.current}
              </button>
            ) : (
              <span className="muted small">{valueText(current, m.unit, numbers)}</span>
            )}
            <span className="small">
              {moved && (
                <span className={`tone-${moved.tone}`}>
                  {moved.mark} {moved.text} {moved.word}{' '}
                </span>
              )}{' '}
              {partial && <span className="tone-attention">◐ {partial} </span>}
              {compared !== null && (
                <span className="muted">
                  {'na' in compared
                    ? view.compare.kind === 'target'
                      ? 'no target for the whole period'
                      : `before: ${valueText(compared, m.unit, numbers)}`
                    : `from ${texts.compared}`}
                  {compared && partialText(compared, numbers) && (
                    <span className="tone-attention"> ◐ {partialText(compared, numbers)}</span>
                  )}
                </span>
              )}
            </span>
            {figures.converted[i] && <span className="small muted">¤ {figures.converted[i]}</span>}
            {left && <span className="small tone-attention">§ {left.words}</span>}
            {odd && (
              <span className={`small ${odd.turned ? 'tone-wrong' : 'tone-attention'}`}>
                ‡ {odd.turned && 'An unusual day reverses this trend. '}
                {odd.days}
                {odd.without && `. ${odd.without}.`}
              </span>
            )}
          </li>
        );
      })}
    </ul>
  );
}

function Body(props: PartProps) {
  const { client, dimensions, offers, view, change, figures, numbers } = props;
  const { member } = useSession();
  const metric = figures.metrics.find((m) => m.key === view.chart) ?? figures.metrics[0]!;
  const offer = offers.find((m) => m.key === metric.key);
  const asBars = view.shape === 'bars' || figures.series === null;
  const ways = dimensions.filter((d) => offer?.dimensions.includes(d.key));
  const pick = useStable((key: string, { from, to }: { from: string; to: string }, label: string | null) => {
    const left = figures.excluded[figures.metrics.findIndex((m) => m.key === key)]?.period ?? [];
    const without = left.filter((day) => from <= day && day <= to);
    change({
      of: {
        metric: key,
        from,
        to,
        ...(without.length > 0 && { without }),
        filter:
          label !== null && view.by
            ? [
                ...view.filter.filter((p) => p.dimension !== view.by),
                { dimension: view.by, how: 'only', values: [label] },
              ]
            : view.filter,
      },
    });
  });
  const pickTime = useStable((from: string, to: string) => pick(metric.key, { from, to }, null));
  const pickLabel = useStable((label: string) => pick(metric.key, figures.period, label));
  const sort = useStable((by: string) => change({ sort: by }));
  return (
    <>
      <Totals {...props} />
      {figures.lacks.map((l) => (
        <Notice key={l}>{l}</Notice>
      ))}
      <div className="figures-columns">
        <section className="card chart-card" aria-label={metric.label}>
          <div className="row" style={{ justifyContent: 'space-between', marginBottom: 6 }}>
            <Choice
              label="View"
              options={[
                { value: 'figures', label: metric.label },
                { value: 'why', label: 'Why it changed' },
                { value: 'rhythm', label: 'By weekday and hour' },
              ]}
              value={view.see}
              onChange={(see) => change({ see })}
            />
            {view.see === 'figures' && figures.series && (
              <Choice
                label="Shape"
                options={[
                  { value: 'line', label: 'Line' },
                  { value: 'bars', label: 'Bars' },
                ]}
                value={view.shape}
                onChange={(shape) => change({ shape })}
              />
            )}
          </div>
          {view.see === 'figures' && (
            <>
              <FiguresChart
                figures={figures}
                metric={metric}
                numbers={numbers}
                shape={view.shape}
                onPick={pickTime}
                onPickLabel={pickLabel}
              />
              <p className="key small muted">
                <span>
                  <i className={asBars ? 'bar-now' : 'line-now'} aria-hidden="true" /> {figures.period.dates}
                </span>
                {figures.compared && (
                  <span>
                    <i
                      className={asBars ? `bar-before${figures.series ? '' : ' bar-outline'}` : 'line-before'}
                      aria-hidden="true"
                    />{' '}
                    {figures.compared.dates}
                  </span>
                )}
                {figures.series?.lines.find((_, i) => figures.metrics[i]!.key === metric.key)?.target && (
                  <span>
                    <i className="line-target" aria-hidden="true" /> target
                  </span>
                )}
                {figures.series && isCut(figures.series) && (
                  <span>incomplete {figures.series.step} appear only in the table</span>
                )}
              </p>
            </>
          )}
          {view.see === 'why' && (
            <WhyPart
              client={client.id}
              metric={metric}
              dimensions={ways}
              view={view}
              numbers={numbers}
              onChange={change}
            />
          )}
          {view.see === 'rhythm' && (
            <RhythmPart client={client.id} metric={metric} range={figures.period} view={view} numbers={numbers} />
          )}
          {view.see === 'figures' && figures.series && (
            <DayMarks client={client.id} figures={figures} offers={offers} mayNote={member.role !== 'reviewer'} />
          )}
        </section>
        <FiguresTable figures={figures} numbers={numbers} sort={view.sort} onSort={sort} onPick={pick} />
      </div>
      {view.of && (
        <ExplainPanel client={client.id} of={view.of} numbers={numbers} onClose={() => change({ of: null })} />
      )}
    </>
  );
}

function Downloads({ client, view }: { client: string; view: View }) {
  const href = (as: string) =>
    `/api/clients/${client}/figures/table?${new URLSearchParams({ ...figuresAsk(view), n: '500', as })}`;
  return (
    <Menu position="bottom-end" width={270}>
      <Menu.Target>
        <Button variant="default">Download</Button>
      </Menu.Target>
      <Menu.Dropdown>
        <Menu.Item component="a" href={href('xlsx')} download>
          Workbook (XLSX)
        </Menu.Item>
        <Menu.Item component="a" href={href('csv')} download>
          CSV, numbers as 1234.5
        </Menu.Item>
        <Menu.Item component="a" href={href('csv-comma')} download>
          CSV, numbers as 1234,5
        </Menu.Item>
      </Menu.Dropdown>
    </Menu>
  );
}

function OfClient({ client }: { client: Client }) {
  const known = useGet('GET /api/clients/:client/metrics', { params: { client: client.id } });
  const offers = known.data?.metrics ?? [];
  const first = offers
    .filter((m) => m.available)
    .slice(0, 1)
    .map((m) => m.key)
    .join(',');
  const [view, change] = useView(first || 'visits');
  const figures = useGet(
    'GET /api/clients/:client/figures',
    { params: { client: client.id }, query: figuresAsk(view) },
    { keep: true, enabled: known.data !== undefined },
  );
  const clipboard = useClipboard();
  const numbers = useMemo(() => createNumbers('en-GB', client.currency), [client.currency]);
  if (known.error) return <Notice error={known.error} />;
  if (!known.data) return <Loading />;
  if (first === '') {
    return (
      <section className="card stack" style={{ maxWidth: 560 }}>
        <h2>No data yet</h2>
        <span>None of {client.name}’s feeds has data.</span>
        <div>
          <Button component={Link} to={`/clients/${client.id}/feeds`}>
            Connect a feed
          </Button>
        </div>
      </section>
    );
  }
  const dimensions = known.data.dimensions;
  return (
    <>
      <div className="figures-head">
        <div>
          <FiguresSentence
            client={client.id}
            fiscalStart={client.fiscalStart}
            offers={offers}
            dimensions={dimensions}
            view={view}
            onChange={change}
          />
          <span className="small muted">
            {figures.data && (
              <>
                {figures.data.period.dates}
                {figures.data.compared
                  ? `, compared with ${figures.data.compared.dates}`
                  : figures.data.against
                    ? `, compared with ${figures.data.against}`
                    : ''}
              </>
            )}
          </span>
        </div>
        <div className="acts">
          {figures.data && (
            <Button
              variant="default"
              onClick={() => clipboard.copy(tableText(figures.data, sorted(rowsOf(figures.data), view.sort), numbers))}
            >
              {clipboard.copied ? 'Copied' : 'Copy table'}
            </Button>
          )}
          <Downloads client={client.id} view={view} />
        </div>
      </div>
      <Notice error={figures.error} />
      {!figures.data && !figures.error && <Loading />}
      {figures.data && (
        <Body
          client={client}
          offers={offers}
          dimensions={dimensions}
          view={view}
          change={change}
          figures={figures.data}
          numbers={numbers}
        />
      )}
    </>
  );
}

/** Where data is looked at, checked and questioned; everything that is shown stands in the address. */
export function Figures() {
  const id = useScope();
  const client = useGet('GET /api/clients/:client', { params: { client: id ?? '' } }, { enabled: id !== null });
  if (id === null) return <ChooseClient />;
  return (
    <main className="place wide">
      <div className="place-head tight">
        <PageTitle of={['Figures', client.data?.name]} />
        <h1>Figures</h1>
        {client.data && (
          <Link to={`/clients/${id}`} className="muted">
            {client.data.name}
          </Link>
        )}
      </div>
      <Notice error={client.error} />
      {client.data ? <OfClient client={client.data} key={client.data.id} /> : !client.error && <Loading />}
    </main>
  );
}
