import type { Client, Look, Report } from '@chronicon/core/contract';
import { Button, Checkbox, Popover, Stack } from '@mantine/core';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { call } from '../../api/call.ts';
import { useChange } from '../../api/hooks.ts';
import { Notice } from '../../parts/Notice.tsx';
import { plural } from '../../parts/when.ts';

/** An edition of the dates that are looked at: kept for nobody, or shown before it goes to those chosen. */
export function MakeNow({ report, client, look }: { report: Report; client: Client; look: Look }) {
  const navigate = useNavigate();
  const [contacts, setContacts] = useState<string[]>([]);
  const make = useChange(() =>
    call('POST /api/reports/:report/make', { params: { report: report.id }, body: { contacts, look } }),
  );
  return (
    <Popover trapFocus returnFocus width={320} position="bottom-end">
      <Popover.Target>
        <Button variant="outline">Create an edition</Button>
      </Popover.Target>
      <Popover.Dropdown>
        <Stack gap={10}>
          <span className="muted small">Uses the last released version. You can review it before sending.</span>
          <Checkbox.Group label="For" value={contacts} onChange={setContacts}>
            <Stack gap={6} mt={4}>
              {client.contacts.map((c) => (
                <Checkbox key={c.id} value={c.id} label={`${c.firstName} ${c.lastName}`} />
              ))}
            </Stack>
          </Checkbox.Group>
          <Button
            loading={make.isPending}
            onClick={() => make.mutate(undefined, { onSuccess: ({ editionId }) => navigate(`/editions/${editionId}`) })}
          >
            {contacts.length === 0
              ? 'Create without readers'
              : `Create and review for ${plural(contacts.length, 'reader')}`}
          </Button>
          <Notice error={make.error} />
        </Stack>
      </Popover.Dropdown>
    </Popover>
  );
}
