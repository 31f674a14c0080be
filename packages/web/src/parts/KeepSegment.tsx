import { SEGMENT_NAME } from '@chronicon/core/bounds';
import type { FilterPart } from '@chronicon/core/contract/figuresText';
import { Button, Checkbox, TextInput } from '@mantine/core';
import { useState } from 'react';
import { call } from '../api/call.ts';
import { useChange } from '../api/hooks.ts';
import { useSession } from '../shell/sessionContext.ts';
import { fieldError, Notice } from './Notice.tsx';

interface Props {
  client: string;
  parts: readonly FilterPart[];
  onKept: (id: string) => void;
}

/** Keeps a filter by a name, for this client or for all. */
export function KeepSegment({ client, parts, onKept }: Props) {
  const { member } = useSession();
  const [name, setName] = useState<string | null>(null);
  const [shared, setShared] = useState(false);
  const keep = useChange(async () => {
    const body = { name: name ?? '', parts: [...parts], shared };
    return call('POST /api/clients/:client/segments', { params: { client }, body });
  });
  if (member.role === 'reviewer') return null;
  if (name === null)
    return (
      <Button variant="default" size="compact-sm" onClick={() => setName('')}>
        Save as segment
      </Button>
    );
  return (
    <div className="stack" style={{ gap: 8 }}>
      <TextInput
        label="Segment name"
        description="Shown to readers under the filtered block’s title"
        maxLength={SEGMENT_NAME}
        value={name}
        onChange={(e) => setName(e.currentTarget.value)}
        error={fieldError(keep.error, 'name')}
      />
      {member.role === 'owner' && (
        <Checkbox label="For all clients" checked={shared} onChange={(e) => setShared(e.currentTarget.checked)} />
      )}
      <Notice error={keep.error} />
      <div className="row">
        <Button
          size="compact-sm"
          loading={keep.isPending}
          disabled={name.trim() === ''}
          onClick={() => keep.mutate(undefined, { onSuccess: ({ id }) => onKept(id) })}
        >
          Save segment
        </Button>
        <Button size="compact-sm" variant="subtle" onClick={() => setName(null)}>
          Cancel
        </Button>
      </div>
    </div>
  );
}
