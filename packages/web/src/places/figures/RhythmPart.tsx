import type { Numbers } from '@chronicon/core/contract/display';
import { filterText } from '@chronicon/core/contract/figuresText';
import { useGet } from '../../api/hooks.ts';
import { Loading } from '../../parts/Loading.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { ScrollBox } from '../../parts/ScrollBox.tsx';
import type { MetricHead } from './figureText.ts';
import type { View } from './view.ts';

interface Props {
  client: string;
  metric: MetricHead;
  range: { from: string; to: string; dates: string };
  view: View;
  numbers: Numbers;
}

const HOURS = Array.from({ length: 24 }, (_, h) => h);
const STRENGTHS = 5;

/** One metric by weekday and hour: the darker, the more; every cell says its figure. */
export function RhythmPart({ client, metric, range, view, numbers }: Props) {
  const found = useGet(
    'GET /api/clients/:client/figures/rhythm',
    {
      params: { client },
      query: {
        metric: metric.key,
        from: range.from,
        to: range.to,
        ...(view.filter.length > 0 && { filter: filterText(view.filter) }),
      },
    },
    { keep: true },
  );
  if (found.error) return <Notice error={found.error} />;
  if (!found.data) return <Loading />;
  const { rhythm, weekdays, lack } = found.data;
  if (!rhythm) {
    return (
      <p className="muted">
        {metric.label} has no hourly data{view.filter.length > 0 ? ' for this filter' : ''}: {lack ?? 'no figures'}.
      </p>
    );
  }
  const most = Math.max(...rhythm.cells.flat().map((v) => v ?? 0), Number.MIN_VALUE);
  const ratio = metric.unit === 'percent' || metric.unit === 'decimal' || metric.unit === 'duration';
  return (
    <div className="stack">
      <ScrollBox label="Weekday by hour">
        <table className="rhythm">
          <thead>
            <tr>
              <td />
              {HOURS.map((h) => (
                <th key={h} scope="col">
                  {h}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {rhythm.cells.map((cells, d) => (
              <tr key={weekdays[d]}>
                <th scope="row" aria-label={weekdays[d]}>
                  {weekdays[d]!.slice(0, 3)}
                </th>
                {cells.map((v, h) => {
                  const strength = v === null ? 0 : Math.round((Math.max(0, v) / most) * STRENGTHS);
                  const text = v === null ? '' : numbers.cell(v, metric.unit === 'count' ? 'decimal' : metric.unit);
                  return (
                    <td
                      key={h}
                      className={`s${strength}`}
                      title={`${weekdays[d]}, ${h}–${h + 1}: ${text || 'no figure'}`}
                    >
                      {v === null
                        ? ''
                        : metric.unit === 'count'
                          ? numbers.cell(v, 'count')
                          : numbers.axis(v, metric.unit, most / 10)}
                    </td>
                  );
                })}
              </tr>
            ))}
          </tbody>
        </table>
      </ScrollBox>
      <span className="small muted">
        {ratio
          ? `Total ${range.dates} per weekday and hour.`
          : `Average per hour, ${range.dates}; based on ${Math.min(...rhythm.days)}–${Math.max(...rhythm.days)} of each weekday.`}
      </span>
    </div>
  );
}
