import type { FilterPart } from '@chronicon/core/contract/figuresText';
import { Button, Radio, Stack } from '@mantine/core';
import type { ReactNode } from 'react';
import { useGet } from '../../api/hooks.ts';
import { FilterPicker } from '../../parts/FilterPicker.tsx';
import { filterWords } from '../../parts/filterWords.ts';
import { ComparisonPicker, PeriodPicker } from '../../parts/PeriodPicker.tsx';
import { comparisonWords, periodWords } from '../../parts/periods.ts';
import { SentencePart } from '../../parts/SentencePart.tsx';
import type { Block } from './block.ts';

type Own = Pick<Block, 'columns' | 'when' | 'period' | 'comparison' | 'filter'>;

interface Props {
  client: string;
  fiscalStart: number;
  block: Block;
  /** Whether it shows figures: what shows none has no dates and no filter. */
  reads: boolean;
  compares: boolean;
  /** What the block's metrics are known by. */
  dimensions: readonly { key: string; label: string }[];
  /** One of its own choices; undefined leaves it to the report. */
  onChange: (own: Own) => void;
}

const WHEN = [
  { value: 'always', label: 'always' },
  { value: 'withFigures', label: 'only when it has data' },
  { value: 'never', label: 'never (hidden)' },
] as const;

const WIDTHS = [
  { value: '', label: 'an equal share of the row' },
  { value: '12', label: 'the whole width' },
  { value: '9', label: 'three quarters' },
  { value: '8', label: 'two thirds' },
  { value: '6', label: 'half the width' },
  { value: '4', label: 'a third' },
  { value: '3', label: 'a quarter' },
  { value: '2', label: 'a sixth' },
];

/** Choices of which one is to leave it to the report. */
function OrAsReport({ own, onReport, children }: { own: boolean; onReport: () => void; children: ReactNode }) {
  return (
    <Stack gap={10}>
      <Button variant={own ? 'default' : 'light'} size="compact-sm" aria-pressed={!own} onClick={onReport}>
        Same as the report
      </Button>
      {children}
    </Stack>
  );
}

/** Where a block differs from its report, as one sentence: dates, comparison, filter, when it stands, how wide it is. */
export function OwnChoices({ client, fiscalStart, block, reads, compares, dimensions, onChange }: Props) {
  const segments = useGet('GET /api/clients/:client/segments', { params: { client } });
  const { columns, when = 'always', period, comparison, filter } = block;
  const width = WIDTHS.find((w) => w.value === (columns === undefined ? '' : String(columns)));
  const take = (key: string, close: () => void) => {
    onChange({ columns: key === '' ? undefined : Number(key) });
    close();
  };
  return (
    <p className="sentence compact own-choices">
      {reads && (
        <>
          It covers{' '}
          <SentencePart about="Dates of the block" text={period ? periodWords(period) : 'the report’s dates'}>
            {(close) => (
              <OrAsReport
                own={period !== undefined}
                onReport={() => {
                  onChange({ period: undefined });
                  close();
                }}
              >
                <PeriodPicker
                  fiscalStart={fiscalStart}
                  value={period ?? { kind: 'fixed', from: '', to: '' }}
                  onChange={(own) => {
                    onChange({ period: own });
                    close();
                  }}
                />
              </OrAsReport>
            )}
          </SentencePart>{' '}
          {compares && (
            <>
              compared with{' '}
              <SentencePart
                about="Comparison of the block"
                text={comparison ? comparisonWords(comparison) : 'the report’s comparison'}
              >
                {(close) => (
                  <OrAsReport
                    own={comparison !== undefined}
                    onReport={() => {
                      onChange({ comparison: undefined });
                      close();
                    }}
                  >
                    <ComparisonPicker
                      value={comparison ?? { kind: 'fixed', from: '', to: '' }}
                      onChange={(own) => {
                        onChange({ comparison: own });
                        close();
                      }}
                    />
                  </OrAsReport>
                )}
              </SentencePart>{' '}
            </>
          )}
          and counts{' '}
          <SentencePart
            about="Filter of the block"
            text={
              filter ? filterWords(filter, { dimensions, segments: segments.data ?? [] }) : 'what the report counts'
            }
            width={360}
          >
            {(close) => (
              <OrAsReport
                own={filter !== undefined}
                onReport={() => {
                  onChange({ filter: undefined });
                  close();
                }}
              >
                <FilterPicker
                  client={client}
                  dimensions={dimensions}
                  parts={filter ?? []}
                  onChange={(parts: FilterPart[]) => onChange({ filter: parts })}
                />
              </OrAsReport>
            )}
          </SentencePart>
          .{' '}
        </>
      )}
      Show{' '}
      <SentencePart about="When the block is shown" text={WHEN.find((w) => w.value === when)!.label.split(':')[0]!}>
        {(close) => (
          <Radio.Group
            aria-label="When the block is shown"
            value={when}
            onChange={(key) => {
              onChange({ when: key === 'always' ? undefined : (key as 'never' | 'withFigures') });
              close();
            }}
          >
            <Stack gap={7}>
              {WHEN.filter((w) => reads || w.value !== 'withFigures').map((w) => (
                <Radio key={w.value} value={w.value} label={w.label} />
              ))}
            </Stack>
          </Radio.Group>
        )}
      </SentencePart>
      , on{' '}
      <SentencePart about="Width of the block" text={width?.label ?? `${columns} of 12 columns`}>
        {(close) => (
          <Radio.Group
            aria-label="Width of the block"
            value={columns === undefined ? '' : String(columns)}
            onChange={(key) => take(key, close)}
          >
            <Stack gap={7}>
              {WIDTHS.map((w) => (
                <Radio key={w.value} value={w.value} label={w.label} />
              ))}
            </Stack>
          </Radio.Group>
        )}
      </SentencePart>
      .
    </p>
  );
}
