import type { Client, Report } from '@chronicon/core/contract';
import { Button, Checkbox, Popover, Stack } from '@mantine/core';
import { useState } from 'react';
import { Link } from 'react-router';
import { call } from '../../api/call.ts';
import { useChange } from '../../api/hooks.ts';
import { Notice } from '../../parts/Notice.tsx';

/** An edition of these dates at once, kept in the archive and sent to those chosen. */
export function MakeNow({ report, client }: { report: Report; client: Client }) {
  const [contacts, setContacts] = useState<string[]>([]);
  const make = useChange(() =>
    call('POST /api/reports/:report/make', { params: { report: report.id }, body: { contacts } }),
  );
  return (
    <Popover width={320} position="bottom-end">
      <Popover.Target>
        <Button variant="outline">Make now</Button>
      </Popover.Target>
      <Popover.Dropdown>
        <Stack gap={10}>
          <Checkbox.Group label="Send it to" value={contacts} onChange={setContacts}>
            <Stack gap={6} mt={4}>
              {client.contacts.map((c) => (
                <Checkbox key={c.id} value={c.id} label={`${c.firstName} ${c.lastName}`} />
              ))}
            </Stack>
          </Checkbox.Group>
          <Button loading={make.isPending} onClick={() => make.mutate()}>
            {contacts.length === 0 ? 'Make it, send it to nobody' : `Make it and send ${contacts.length}`}
          </Button>
          <Notice error={make.error} />
          {make.data && <Link to={`/archive?edition=${make.data.editionId}`}>See the edition</Link>}
        </Stack>
      </Popover.Dropdown>
    </Popover>
  );
}
