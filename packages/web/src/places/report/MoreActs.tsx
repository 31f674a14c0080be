import type { Client, Report } from '@chronicon/core/contract';
import { Button, Checkbox, Menu, Modal, Stack, TextInput } from '@mantine/core';
import { type FormEvent, memo, useState } from 'react';
import { Link } from 'react-router';
import { ApiError, call } from '../../api/call.ts';
import { useChange } from '../../api/hooks.ts';
import { FormEnd } from '../../parts/FormEnd.tsx';
import { fieldError, Notice } from '../../parts/Notice.tsx';
import { useClientNames } from '../../parts/useClientNames.ts';
import { plural } from '../../parts/when.ts';
import { useSession } from '../../shell/sessionContext.ts';

interface Props {
  report: Report;
  client: Client;
  /** Saves what is not saved yet; false where that could not be done. */
  settle: () => Promise<boolean>;
  look: string | null;
}

type Open = 'keep' | 'template' | 'clone';

const TITLES: Record<Open, string> = {
  keep: 'Keep this version',
  template: 'Make a template of it',
  clone: 'Make it for other clients',
};

/** @throws ApiError where what was changed here is not with the server: what is made would be of an older draft */
async function whole(settle: Props['settle']): Promise<void> {
  if (await settle()) return;
  throw new ApiError(
    0,
    'Your last changes are not saved yet, so nothing was made of them. Try again when they are.',
    {},
  );
}

/** A name for the draft as it is. */
function Keep({ report, settle, onDone }: Props & { onDone: (said: string) => void }) {
  const [name, setName] = useState('');
  const save = useChange(async () => {
    await whole(settle);
    const { version } = await call('GET /api/reports/:report', { params: { report: report.id } });
    await call('POST /api/reports/:report/versions', { params: { report: report.id }, body: { name, version } });
  });
  const submit = (e: FormEvent) => {
    e.preventDefault();
    save.mutate(undefined, { onSuccess: () => onDone(`Kept as “${name.trim()}”.`) });
  };
  return (
    <form className="stack" onSubmit={submit} noValidate>
      <span className="muted small">Whatever changes after it, it can be held beside the draft, and brought back.</span>
      <TextInput
        label="Name"
        data-autofocus
        maxLength={80}
        value={name}
        onChange={(e) => setName(e.currentTarget.value)}
        error={fieldError(save.error, 'name')}
      />
      <FormEnd error={save.error} fields={['name']} pending={save.isPending} save="Keep it" />
    </form>
  );
}

/** A template of the draft. */
function Make({ report, client, settle, onDone }: Props & { onDone: (said: string) => void }) {
  const [name, setName] = useState(report.title);
  const [about, setAbout] = useState('');
  const save = useChange(async () => {
    await whole(settle);
    await call('POST /api/templates', { body: { name, about, report: report.id } });
  });
  const submit = (e: FormEvent) => {
    e.preventDefault();
    save.mutate(undefined, { onSuccess: () => onDone(`“${name.trim()}” is a template now; this report follows it.`) });
  };
  return (
    <form className="stack" onSubmit={submit} noValidate>
      <span className="muted small">
        Its pages and blocks come along. What is {client.name}’s alone does not: words that were written, pictures,
        segments.
      </span>
      <TextInput
        label="Name"
        data-autofocus
        maxLength={80}
        value={name}
        onChange={(e) => setName(e.currentTarget.value)}
        error={fieldError(save.error, 'name')}
      />
      <TextInput
        label="What it is for"
        maxLength={200}
        value={about}
        onChange={(e) => setAbout(e.currentTarget.value)}
      />
      <FormEnd error={save.error} fields={['name']} pending={save.isPending} save="Make it" />
    </form>
  );
}

/** The same report for other clients, as drafts. */
function Clone({ report, client, settle }: Props) {
  const [chosen, setChosen] = useState<string[]>([]);
  const names = useClientNames({ ids: chosen });
  const clone = useChange(async () => {
    await whole(settle);
    return call('POST /api/reports/:report/clone', { params: { report: report.id }, body: { clients: chosen } });
  });
  const others = names.clients.filter((c) => c.id !== client.id);
  const nameOf = (id: string) => others.find((c) => c.id === id)?.name ?? '';
  if (clone.data) {
    return (
      <ul className="plain stack">
        {clone.data.made.map((m) => (
          <li key={m.report}>
            <Link to={`/reports/${m.report}`}>{nameOf(m.client)}</Link>
            {m.missing.length > 0 && <div className="small muted">No feed brings {m.missing.join(', ')} yet.</div>}
          </li>
        ))}
      </ul>
    );
  }
  return (
    <form
      className="stack"
      onSubmit={(e) => {
        e.preventDefault();
        clone.mutate();
      }}
    >
      <span className="muted small">
        As drafts, without words and pictures. Nothing goes out before you release each.
      </span>
      {(names.hasMore || names.text !== '') && (
        <TextInput label="Find a client" value={names.text} onChange={(e) => names.setText(e.currentTarget.value)} />
      )}
      <Checkbox.Group value={chosen} onChange={setChosen} aria-label="Clients">
        <Stack gap={6} className="long-list">
          {others.map((c) => (
            <Checkbox key={c.id} value={c.id} label={c.name} />
          ))}
        </Stack>
      </Checkbox.Group>
      <Notice error={clone.error} />
      <div>
        <Button type="submit" loading={clone.isPending} disabled={chosen.length === 0}>
          Make it for {plural(chosen.length, 'client')}
        </Button>
      </div>
    </form>
  );
}

/** What can be done with a report beside sending it: versions, templates, other clients. */
export const MoreActs = memo(function MoreActs(props: Props) {
  const { report, settle, look } = props;
  const { member } = useSession();
  const mayMake = member.role !== 'reviewer';
  const [open, setOpen] = useState<Open | null>(null);
  const [said, setSaid] = useState('');
  const take = useChange(async () => {
    await whole(settle);
    return call('POST /api/templates/:template/take', {
      params: { template: report.template!.id },
      body: { report: report.id },
    });
  });
  const done = (words: string) => {
    setOpen(null);
    setSaid(words);
  };
  return (
    <>
      {said !== '' && (
        <span className="small tone-good" role="status">
          {said}
        </span>
      )}
      <Notice error={take.error} />
      <Menu width={260} position="bottom-end">
        <Menu.Target>
          <Button variant="subtle" size="compact-sm">
            More
          </Button>
        </Menu.Target>
        <Menu.Dropdown>
          {mayMake && <Menu.Item onClick={() => setOpen('keep')}>{TITLES.keep}</Menu.Item>}
          <Menu.Item component={Link} to={`/reports/${report.id}/versions${look ? `?look=${look}` : ''}`}>
            Versions
          </Menu.Item>
          <Menu.Divider />
          {report.template && (
            <>
              <Menu.Item
                disabled={!mayMake}
                onClick={() =>
                  take.mutate(undefined, {
                    onSuccess: () => setSaid(`“${report.template!.name}” has this change; others follow on its page.`),
                  })
                }
              >
                Take this into the template “{report.template.name}”
              </Menu.Item>
              <Menu.Item component={Link} to={`/templates/${report.template.id}`}>
                See who follows it
              </Menu.Item>
            </>
          )}
          {mayMake && !report.template && <Menu.Item onClick={() => setOpen('template')}>{TITLES.template}</Menu.Item>}
          {mayMake && <Menu.Item onClick={() => setOpen('clone')}>{TITLES.clone}</Menu.Item>}
        </Menu.Dropdown>
      </Menu>
      <Modal opened={open !== null} onClose={() => setOpen(null)} title={open ? TITLES[open] : ''} centered>
        {open === 'keep' && <Keep {...props} onDone={done} />}
        {open === 'template' && <Make {...props} onDone={done} />}
        {open === 'clone' && <Clone {...props} />}
      </Modal>
    </>
  );
});
