import type { Figures, MetricOffer } from '@chronicon/core/contract';
import { Button } from '@mantine/core';
import { call } from '../../api/call.ts';
import { useChange } from '../../api/hooks.ts';
import { Notice } from '../../parts/Notice.tsx';
import { dayWithYear, plainDate } from '../../parts/when.ts';

type Row = Figures['exclusions'][number];

interface Props {
  client: string;
  exclusions: readonly Row[];
  offers: readonly MetricOffer[];
  mayChange: boolean;
  onChange: (row: Row) => void;
}

const datesOf = ({ from, to }: Row): string =>
  from === to ? dayWithYear(from) : `${plainDate(from)} – ${plainDate(to)}`;

/** The days that are left out of what is shown, each with the way to count it again. */
export function ExcludedDays({ client, exclusions, offers, mayChange, onChange }: Props) {
  const count = useChange((excluded: string) =>
    call('DELETE /api/clients/:client/excluded-days/:excluded', { params: { client, excluded } }),
  );
  const labelOf = (key: string) => offers.find((m) => m.key === key)?.label ?? key;
  return (
    <>
      {exclusions.map((e) => (
        <div key={e.id} className="mark-line">
          <span className="tone-attention">§ excluded</span>
          <span>
            <b>{datesOf(e)}</b>{' '}
            <span className="small">
              {e.reason}{' '}
              <span className="muted">
                ({e.metrics.length === 0 ? 'all figures' : e.metrics.map(labelOf).join(', ')};{' '}
                {e.printed ? 'reason shown to readers' : 'reason is internal'}; by {e.madeBy})
              </span>
            </span>
          </span>
          {mayChange && (
            <span className="row" style={{ gap: 4, flexWrap: 'nowrap' }}>
              <Button
                size="compact-xs"
                variant="default"
                aria-label={`Change exclusion: ${datesOf(e)}`}
                onClick={() => onChange(e)}
              >
                Change
              </Button>
              <Button
                size="compact-xs"
                variant="subtle"
                loading={count.isPending && count.variables === e.id}
                aria-label={`Include again: ${datesOf(e)}`}
                onClick={() => count.mutate(e.id)}
              >
                Include again
              </Button>
            </span>
          )}
        </div>
      ))}
      <Notice error={count.error} />
    </>
  );
}
