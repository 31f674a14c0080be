import { MOST_ALL_ROWS } from '@chronicon/core/bounds';
import type { MetricOffer } from '@chronicon/core/contract';
import { Radio, Stack } from '@mantine/core';
import { useGet } from '../../api/hooks.ts';
import { FilterPicker } from '../../parts/FilterPicker.tsx';
import { filterWords, listed } from '../../parts/filterWords.ts';
import { NumberField } from '../../parts/NumberField.tsx';
import { ComparisonPicker, PeriodPicker } from '../../parts/PeriodPicker.tsx';
import { comparisonWords, periodWords } from '../../parts/periods.ts';
import { SentencePart } from '../../parts/SentencePart.tsx';
import { MetricPicker } from './MetricPicker.tsx';
import type { View } from './view.ts';

interface Props {
  client: string;
  fiscalStart: number;
  offers: readonly MetricOffer[];
  dimensions: readonly { key: string; label: string }[];
  view: View;
  onChange: (patch: Partial<View>) => void;
}

const STEPS = [
  { key: 'auto', label: 'over time', short: 'over time' },
  { key: 'day', label: 'by day', short: 'by day' },
  { key: 'week', label: 'by week', short: 'by week' },
  { key: 'month', label: 'by month', short: 'by month' },
  { key: 'quarter', label: 'by quarter', short: 'by quarter' },
];

/** What is shown, as one sentence; each underlined part opens its choices. */
export function FiguresSentence({ client, fiscalStart, offers, dimensions, view, onChange }: Props) {
  const segments = useGet('GET /api/clients/:client/segments', { params: { client } });
  const labelOf = (key: string) => offers.find((m) => m.key === key)?.label ?? key;
  const usable = new Set(view.metrics.flatMap((k) => offers.find((m) => m.key === k)?.dimensions ?? []));
  const ways = dimensions.filter((d) => usable.has(d.key));
  const way = view.by
    ? `by ${dimensions.find((d) => d.key === view.by)?.label ?? view.by}`
    : (STEPS.find((s) => s.key === view.step)?.short ?? 'over time');
  return (
    <p className="sentence compact">
      Show{' '}
      <SentencePart about="Metrics" text={listed(view.metrics.map(labelOf))}>
        {() => (
          <MetricPicker
            offers={offers}
            chosen={view.metrics}
            onChange={(metrics) => onChange({ metrics, sort: '', of: null })}
          />
        )}
      </SentencePart>{' '}
      <SentencePart about="Breakdown" text={way}>
        {(close) => (
          <Stack gap={10}>
            <Radio.Group
              aria-label="Breakdown"
              value={view.by ? `by:${view.by}` : view.step}
              onChange={(v) => {
                if (v.startsWith('by:')) onChange({ by: v.slice(3), sort: '' });
                else onChange({ by: null, step: v, sort: '' });
                close();
              }}
            >
              <Stack gap={7}>
                {STEPS.map((s) => (
                  <Radio key={s.key} value={s.key} label={s.label} />
                ))}
                {ways.map((d) => (
                  <Radio key={d.key} value={`by:${d.key}`} label={`by ${d.label}`} />
                ))}
              </Stack>
            </Radio.Group>
            {view.by && (
              <NumberField
                label="Rows before “Other”"
                min={1}
                max={MOST_ALL_ROWS}
                value={view.n}
                onChange={(n) => onChange({ n })}
              />
            )}
          </Stack>
        )}
      </SentencePart>{' '}
      of{' '}
      <SentencePart
        about="Filter"
        text={filterWords(view.filter, { dimensions, segments: segments.data ?? [] })}
        width={380}
      >
        {() => (
          <FilterPicker
            client={client}
            dimensions={ways.length > 0 ? ways : dimensions}
            parts={view.filter}
            onChange={(filter) => onChange({ filter, of: null })}
          />
        )}
      </SentencePart>{' '}
      in{' '}
      <SentencePart about="Period" text={periodWords(view.period)}>
        {(close) => (
          <PeriodPicker
            fiscalStart={fiscalStart}
            value={view.period}
            onChange={(period) => {
              onChange({ period, of: null });
              close();
            }}
          />
        )}
      </SentencePart>
      , compared with{' '}
      <SentencePart about="Comparison" text={comparisonWords(view.compare)}>
        {(close) => (
          <ComparisonPicker
            value={view.compare}
            onChange={(compare) => {
              onChange({ compare, of: null });
              close();
            }}
          />
        )}
      </SentencePart>
      .
    </p>
  );
}
