import { TEXT } from '@chronicon/core/bounds';
import { Button, Menu, Modal, Stack, TextInput } from '@mantine/core';
import { type FormEvent, useState } from 'react';
import { useNavigate } from 'react-router';
import { call, type Reply } from '../../api/call.ts';
import { useChange } from '../../api/hooks.ts';
import { FormEnd } from '../../parts/FormEnd.tsx';
import { fieldError, Notice } from '../../parts/Notice.tsx';
import { plural } from '../../parts/when.ts';

type Row = Reply<'GET /api/clients/:client/reports'>[number];

/** What can be done with a report where it is listed: a copy, another name, and its end. */
export function ReportMenu({ report, mayDelete }: { report: Row; mayDelete: boolean }) {
  const navigate = useNavigate();
  const [open, setOpen] = useState<'rename' | 'delete' | null>(null);
  const close = () => setOpen(null);
  const copy = useChange(() =>
    call('POST /api/clients/:client/reports', {
      params: { client: report.clientId },
      body: { title: `${report.title} (copy)`.slice(0, TEXT.title), report: report.id },
    }),
  );
  return (
    <>
      <Menu position="bottom-end" withinPortal>
        <Menu.Target>
          <Button variant="subtle" size="compact-sm" aria-label={`More for ${report.title}`} loading={copy.isPending}>
            More
          </Button>
        </Menu.Target>
        <Menu.Dropdown>
          <Menu.Item onClick={() => copy.mutate(undefined, { onSuccess: (made) => navigate(`/reports/${made.id}`) })}>
            Duplicate
          </Menu.Item>
          <Menu.Item onClick={() => setOpen('rename')}>Rename</Menu.Item>
          {mayDelete && (
            <Menu.Item color="red" onClick={() => setOpen('delete')}>
              Delete
            </Menu.Item>
          )}
        </Menu.Dropdown>
      </Menu>
      <Notice error={copy.error} />
      <Modal opened={open === 'rename'} onClose={close} title="Rename this report" centered>
        <Rename report={report} onDone={close} />
      </Modal>
      <Modal opened={open === 'delete'} onClose={close} title={`Delete “${report.title}”?`} centered>
        <Delete report={report} onDone={close} />
      </Modal>
    </>
  );
}

function Rename({ report, onDone }: { report: Row; onDone: () => void }) {
  const [title, setTitle] = useState(report.title);
  const save = useChange(() =>
    call('POST /api/reports/:report/edits', {
      params: { report: report.id },
      body: { version: report.version, edits: [{ op: 'title', title }] },
    }),
  );
  const submit = (e: FormEvent) => {
    e.preventDefault();
    save.mutate(undefined, { onSuccess: onDone });
  };
  return (
    <form className="stack" onSubmit={submit} noValidate>
      <TextInput
        label="Title"
        description={report.released ? 'Readers see it after the next release' : undefined}
        value={title}
        maxLength={TEXT.title}
        onChange={(e) => setTitle(e.currentTarget.value)}
        error={fieldError(save.error, 'edits.0.title')}
        data-autofocus
      />
      <FormEnd error={save.error} fields={['edits.0.title']} pending={save.isPending} save="Rename" onCancel={onDone} />
    </form>
  );
}

function Delete({ report, onDone }: { report: Row; onDone: () => void }) {
  const remove = useChange(() => call('DELETE /api/reports/:report', { params: { report: report.id } }));
  return (
    <Stack>
      <p style={{ margin: 0 }}>
        {report.schedules > 0
          ? `${plural(report.schedules, 'schedule')} ${report.schedules === 1 ? 'sends' : 'send'} it, and ${report.schedules === 1 ? 'ends' : 'end'} with it. `
          : 'No schedule uses it. '}
        Its editions stay in the archive.
      </p>
      <Notice error={remove.error} />
      <div className="row">
        <Button variant="default" data-autofocus onClick={onDone}>
          Keep it
        </Button>
        <Button color="red" loading={remove.isPending} onClick={() => remove.mutate(undefined, { onSuccess: onDone })}>
          Delete the report{report.schedules > 0 && ` and end ${plural(report.schedules, 'schedule')}`}
        </Button>
      </div>
    </Stack>
  );
}
