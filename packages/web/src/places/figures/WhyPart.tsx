import { fullStop, type Numbers } from '@chronicon/core/contract/display';
import { comparisonText, filterText, periodText } from '@chronicon/core/contract/figuresText';
import { Button, CopyButton, NativeSelect } from '@mantine/core';
import { useGet } from '../../api/hooks.ts';
import { Loading } from '../../parts/Loading.tsx';
import { Notice } from '../../parts/Notice.tsx';
import type { MetricHead } from './figureText.ts';
import type { View } from './view.ts';

interface Props {
  client: string;
  metric: MetricHead;
  dimensions: readonly { key: string; label: string }[];
  view: View;
  numbers: Numbers;
  onChange: (patch: Partial<View>) => void;
}

const SHOWN = 12;

/** What contributed the change of one metric: a sentence for the report, and every part with its bar. */
export function WhyPart({ client, metric, dimensions, view, numbers, onChange }: Props) {
  const by = view.whyBy ?? view.by ?? dimensions[0]?.key ?? '';
  const why = useGet(
    'GET /api/clients/:client/figures/why',
    {
      params: { client },
      query: {
        metric: metric.key,
        by,
        period: periodText(view.period),
        compare: comparisonText(view.compare),
        ...(view.filter.length > 0 && { filter: filterText(view.filter) }),
      },
    },
    { enabled: by !== '', keep: true },
  );
  if (dimensions.length === 0) return <p className="muted">{metric.label} can’t be broken down.</p>;
  if (why.error) return <Notice error={why.error} />;
  if (!why.data) return <Loading />;
  const { drivers, sentence, lack } = why.data;
  const points = metric.unit === 'percent';
  const rest = drivers ? drivers.items.slice(SHOWN).reduce((n, i) => n + i.by, drivers.residual) : 0;
  const shown = [
    ...(drivers?.items.slice(0, SHOWN) ?? []),
    ...(drivers && (drivers.items.length > SHOWN || drivers.residual !== 0) ? [{ label: 'Other', by: rest }] : []),
  ];
  const written = [
    ...(drivers ? [drivers.change] : []),
    ...shown.flatMap((i) => [i.by, ...('rate' in i ? [i.rate ?? 0, i.mix ?? 0] : [])]),
  ];
  const column = numbers.differences(written, metric.unit);
  const say = (v: number) => (points ? `${column.say(v)} points` : column.say(v));
  const printed = shown.reduce((n, i) => n + column.rounded(i.by), 0);
  const addsUp = !drivers || Math.abs(printed - column.rounded(drivers.change)) < 1e-6;
  const most = Math.max(...shown.map((i) => Math.abs(i.by)), Number.MIN_VALUE);
  return (
    <div className="stack">
      {sentence && (
        <blockquote className="said" lang={why.data.language}>
          {fullStop(sentence)}
        </blockquote>
      )}
      <div className="row">
        <NativeSelect
          aria-label="Broken down by"
          data={dimensions.map((d) => ({ value: d.key, label: `by ${d.label}` }))}
          value={by}
          onChange={(e) => onChange({ whyBy: e.currentTarget.value })}
        />
        {sentence && (
          <CopyButton value={fullStop(sentence)}>
            {({ copied, copy }) => (
              <Button variant="default" size="compact-sm" onClick={copy}>
                {copied ? 'Copied' : 'Copy sentence'}
              </Button>
            )}
          </CopyButton>
        )}
      </div>
      {!drivers && <p className="muted">The change can’t be broken down: {lack ?? 'no figures'}.</p>}
      {drivers && (
        <table className="list figures drivers">
          <thead>
            <tr>
              <th scope="col">Part</th>
              <th scope="col">
                <span className="reading-only">Bar</span>
              </th>
              <th scope="col" className="num">
                contributed
              </th>
              {drivers.kind === 'ratio' && (
                <>
                  <th scope="col" className="num" title="Rate effect">
                    own rate
                  </th>
                  <th scope="col" className="num" title="Mix effect">
                    weight
                  </th>
                </>
              )}
            </tr>
          </thead>
          <tbody>
            {shown.map((i) => (
              <tr key={i.label}>
                <th scope="row">{('name' in i ? i.name : undefined) ?? (i.label || '(unnamed)')}</th>
                <td>
                  <span className="two-way" aria-hidden="true">
                    <span className={i.by < 0 ? 'down' : 'up'} style={{ width: `${(50 * Math.abs(i.by)) / most}%` }} />
                  </span>
                </td>
                <td className="num">{say(i.by)}</td>
                {drivers.kind === 'ratio' && (
                  <>
                    <td className="num muted">{'rate' in i && i.rate !== undefined ? say(i.rate) : ''}</td>
                    <td className="num muted">{'mix' in i && i.mix !== undefined ? say(i.mix) : ''}</td>
                  </>
                )}
              </tr>
            ))}
            <tr className="total">
              <th scope="row">Whole change</th>
              <td />
              <td className="num">{say(drivers.change)}</td>
              {drivers.kind === 'ratio' && (
                <>
                  <td />
                  <td />
                </>
              )}
            </tr>
          </tbody>
        </table>
      )}
      {!addsUp && <p className="muted small">Figures may not add up due to rounding.</p>}
    </div>
  );
}
