import type { Feed } from '@chronicon/core/contract';
import { Radio, Stack } from '@mantine/core';
import { call } from '../api/call.ts';
import { useChange, useGet } from '../api/hooks.ts';
import { Notice } from './Notice.tsx';
import { plainDate } from './when.ts';

type Past = Feed['past'];

const firstDayOf = (feed: Feed): string | null =>
  feed.datasets.length > 0 ? feed.datasets.map((d) => d.firstDay).sort()[0]! : null;

/** Services of one kind are told apart by a number behind it. */
const kindOf = ({ kind }: { kind: string }): string => kind.split('.')[0]!;

/**
 * What one of several feeds of a kind was before its first day here, and what it is since it was removed: it decides
 * whether sums of those days are whole. Nothing where the client has no other feed of the kind.
 */
export function PastOfFeed({ client, feed: id }: { client: string; feed: string }) {
  const feeds = useGet('GET /api/clients/:client/feeds', { params: { client } });
  const params = { client, feed: id };
  const change = useChange((past: Past) => call('PUT /api/clients/:client/feeds/:feed/past', { params, body: past }));
  const feed = feeds.data?.find((f) => f.id === id);
  const others = feeds.data?.filter((f) => kindOf(f) === (feed && kindOf(feed)) && f.id !== id) ?? [];
  if (feed?.source !== 'service' || others.length === 0) return null;
  const { past } = feed;
  const first = firstDayOf(feed);
  // Before the first one of all nothing is known in any case; none continues what began after it.
  const earlier = others.filter((o) => first === null || (firstDayOf(o) ?? '') < first);
  const choose = (value: string) => {
    const [before, continues = null] = value.split(':') as [Past['before'], string?];
    change.mutate({ ...past, before, continues });
  };
  const last = feed.coveredThrough;
  return (
    <Stack gap="sm" className="past-of-feed">
      {earlier.length > 0 && (
        <Radio.Group
          label={`Did ${feed.name} have data before ${first ? plainDate(first) : 'its first day here'}?`}
          value={past.before === 'continues' ? `continues:${past.continues}` : past.before}
          onChange={choose}
        >
          <Stack gap={6} mt={6}>
            <Radio value="ran" label="Yes, but we don’t have it" description="Earlier totals are marked incomplete." />
            <Radio value="began" label="No, it started then" description="Earlier totals are complete without it." />
            {earlier.map((o) => (
              <Radio
                key={o.id}
                value={`continues:${o.id}`}
                label={`It continues ${o.name}`}
                description="Treated as one series: earlier days come from the old feed."
              />
            ))}
          </Stack>
        </Radio.Group>
      )}
      {feed.state === 'removed' && (
        <Radio.Group
          label={`What happened after ${last ? plainDate(last) : 'its last day'}?`}
          value={past.after}
          onChange={(after) => change.mutate({ ...past, after: after as Past['after'] })}
        >
          <Stack gap={6} mt={6}>
            <Radio value="unread" label="We stopped collecting it" description="Later totals are marked incomplete." />
            <Radio value="ended" label="It ended" description="It ended then. Later totals are complete without it." />
          </Stack>
        </Radio.Group>
      )}
      <Notice error={change.error} />
    </Stack>
  );
}
