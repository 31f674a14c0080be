import type { Client, ScheduleInput } from '@chronicon/core/contract';
import { Button, Checkbox, FileButton, NativeSelect, Popover, Stack, Textarea, TextInput } from '@mantine/core';
import { useState } from 'react';
import { type ApiError, call } from '../../api/call.ts';
import { useAct, useGet } from '../../api/hooks.ts';
import { FilterPicker } from '../../parts/FilterPicker.tsx';
import { fieldError, Notice } from '../../parts/Notice.tsx';
import { ScrollBox } from '../../parts/ScrollBox.tsx';
import { plural } from '../../parts/when.ts';
import { type Colleague, keyOf, type Reader, readerName } from './readersText.ts';

type Groups = NonNullable<ScheduleInput['groups']>;
type Group = Groups['groups'][number];
type Dimension = { key: string; label: string };

interface Props {
  client: Client;
  colleagues: readonly Colleague[];
  dimensions: readonly Dimension[];
  groups: ScheduleInput['groups'];
  error: ApiError | null;
  onChange: (groups: ScheduleInput['groups']) => void;
}

/** Dimensions that people have readers by come first. */
const FIRST = ['location', 'country', 'market', 'advertiser', 'lineItem', 'site'];
/** Single posts, pictures and the like: nobody has readers by them, and each new one would be a group of its own. */
const SELDOM = ['hour', 'landingPage', 'keyword', 'event', 'post', 'hashtag', 'postLink', 'postPicture', 'hashtagLink'];
const order = (d: Dimension): number => {
  if (SELDOM.includes(d.key)) return FIRST.length + 1 + SELDOM.indexOf(d.key);
  return FIRST.includes(d.key) ? FIRST.indexOf(d.key) : FIRST.length;
};
const offerOf = (d: Dimension) => ({
  value: d.key,
  label: `one for each ${d.label.toLowerCase()}${SELDOM.includes(d.key) ? ' – rarely useful' : ''}`,
});

const idOf = (): string =>
  `gr_${[...crypto.getRandomValues(new Uint8Array(10))].map((b) => b.toString(16).padStart(2, '0')).join('')}`;
const groupOf = (value: string): Group => ({ id: idOf(), value, filter: [], readers: [], fileName: '', greeting: '' });

const toggled = (readers: readonly Reader[], r: Reader): Reader[] =>
  readers.some((x) => keyOf(x) === keyOf(r)) ? readers.filter((x) => keyOf(x) !== keyOf(r)) : [...readers, r];

/** What a group has of its own beside its readers. */
function OwnOfGroup({
  group,
  client,
  dimensions,
  onChange,
}: {
  group: Group;
  client: Client;
  dimensions: readonly Dimension[];
  onChange: (group: Group) => void;
}) {
  const said = [group.greeting, group.fileName].filter((t) => t !== '').length + group.filter.length;
  const words = said > 0 ? `${said} of its own` : 'same as the others';
  return (
    <Popover trapFocus returnFocus width={380} position="bottom-end" transitionProps={{ duration: 0 }}>
      <Popover.Target>
        <button
          type="button"
          className="text-button"
          aria-label={`${words}: greeting, file and filter of ${group.value}`}
        >
          {words}
        </button>
      </Popover.Target>
      <Popover.Dropdown aria-label={group.value}>
        <Stack gap={8}>
          <b>{group.value}</b>
          <TextInput
            label="Greeting"
            description="Shown before the message"
            value={group.greeting}
            onChange={(e) => onChange({ ...group, greeting: e.currentTarget.value })}
          />
          <TextInput
            label="File name"
            description="Leave empty to use the schedule’s file name"
            value={group.fileName}
            onChange={(e) => onChange({ ...group, fileName: e.currentTarget.value })}
          />
          <FilterPicker
            client={client.id}
            dimensions={dimensions}
            parts={group.filter}
            onChange={(filter) => onChange({ ...group, filter })}
          />
        </Stack>
      </Popover.Dropdown>
    </Popover>
  );
}

/** Groups out of a file, or pasted. */
function FromFile({ client, by, onTake }: { client: Client; by: string; onTake: (groups: Group[]) => void }) {
  const [text, setText] = useState('');
  const read = useAct((csv: string) =>
    call('POST /api/clients/:client/groups', { params: { client: client.id }, body: { by, text: csv } }),
  );
  const take = (csv: string) => read.mutate(csv, { onSuccess: ({ groups }) => groups.length > 0 && onTake(groups) });
  return (
    <details className="history">
      <summary>From a file (CSV)</summary>
      <Stack gap={8} mt={8}>
        <Textarea
          label="Rows"
          description="The first names the columns: value, email, greeting, file. An address in each row; a list by its name."
          autosize
          minRows={3}
          maxRows={8}
          value={text}
          error={fieldError(read.error, 'text')}
          onChange={(e) => setText(e.currentTarget.value)}
        />
        <div className="row">
          <Button size="sm" variant="outline" disabled={text.trim() === ''} onClick={() => take(text)}>
            Use these rows
          </Button>
          <FileButton accept=".csv,text/csv" onChange={(file) => file?.text().then(take)}>
            {(props) => (
              <Button size="sm" variant="default" {...props}>
                Choose a file
              </Button>
            )}
          </FileButton>
        </div>
        {read.data && (
          <div className="small" role="status">
            {plural(read.data.groups.length, 'group')} used.
            {read.data.problems.map((p) => (
              <div key={`${p.line} ${p.text}`} className="tone-attention">
                Row {p.line}: {p.text}
              </div>
            ))}
          </div>
        )}
        <Notice error={read.error && !fieldError(read.error, 'text') ? read.error : null} />
      </Stack>
    </details>
  );
}

/** One report for many groups of readers: an edition for each value of a dimension; who gets which, as a matrix. */
export function GroupsPart({ client, colleagues, dimensions, groups, error, onChange }: Props) {
  const offered = [...dimensions].sort((a, b) => order(a) - order(b));
  const values = useGet(
    'GET /api/clients/:client/labels',
    { params: { client: client.id }, query: { dimension: groups?.by ?? '' } },
    { enabled: groups !== null, keep: true },
  );
  const label = offered.find((d) => d.key === groups?.by)?.label ?? '';
  const known = useAct((by: string) =>
    call('GET /api/clients/:client/labels', { params: { client: client.id }, query: { dimension: by } }),
  );
  const choose = (by: string) => {
    if (by === '') {
      onChange(null);
      return;
    }
    known.mutate(by, {
      onSuccess: ({ labels }) => {
        const found = labels.filter((v) => v !== '');
        onChange({ by, groups: (found.length > 0 ? found : ['']).map(groupOf), without: [] });
      },
    });
  };
  const people: Reader[] = [
    ...client.contacts.filter((c) => c.standing === 'reads').map((c) => ({ contact: c.id })),
    ...client.lists.map((l) => ({ list: l.id })),
  ];
  const listed = new Set(groups?.groups.map((g) => g.value));
  const fresh = (values.data?.labels ?? []).filter((v) => v !== '' && !listed.has(v) && !groups?.without.includes(v));
  const set = (changed: Partial<Groups>) => groups && onChange({ ...groups, ...changed });
  const setGroup = (group: Group) => set({ groups: groups!.groups.map((g) => (g.id === group.id ? group : g)) });
  return (
    <section className="stack groups" aria-label="Groups of readers">
      <NativeSelect
        label="Split by value"
        description="A separate edition and readers for each value"
        data={[{ value: '', label: 'one edition for all readers' }, ...offered.map(offerOf)]}
        value={groups?.by ?? ''}
        error={fieldError(error, 'groups.by') ?? fieldError(error, 'groups.groups')}
        onChange={(e) => choose(e.currentTarget.value)}
        style={{ maxWidth: 420 }}
      />
      <Notice error={known.error ?? values.error} />
      {groups && (
        <>
          <ScrollBox label={`Who gets which ${label.toLowerCase()}`}>
            <table className="list matrix">
              <thead>
                <tr>
                  <th>{label}</th>
                  {people.map((r) => (
                    <th key={keyOf(r)}>{readerName(client, colleagues, r)}</th>
                  ))}
                  <th>Its own</th>
                  <th />
                </tr>
              </thead>
              <tbody>
                {groups.groups.map((g, i) => (
                  <tr key={g.id}>
                    <th scope="row">
                      {g.value}
                      {g.readers.length === 0 && <div className="tone-attention small">nobody yet</div>}
                      {fieldError(error, `groups.groups.${i}.readers`) && (
                        <div className="tone-wrong small">{fieldError(error, `groups.groups.${i}.readers`)}</div>
                      )}
                    </th>
                    {people.map((r) => (
                      <td key={keyOf(r)}>
                        <Checkbox
                          aria-label={`${readerName(client, colleagues, r)} gets ${g.value}`}
                          checked={g.readers.some((x) => keyOf(x) === keyOf(r))}
                          onChange={() => setGroup({ ...g, readers: toggled(g.readers, r) })}
                        />
                      </td>
                    ))}
                    <td>
                      <OwnOfGroup group={g} client={client} dimensions={offered} onChange={setGroup} />
                    </td>
                    <td>
                      <Button
                        size="compact-xs"
                        variant="subtle"
                        color="red"
                        disabled={groups.groups.length === 1}
                        aria-label={`Exclude ${g.value}`}
                        onClick={() =>
                          set({
                            groups: groups.groups.filter((x) => x.id !== g.id),
                            without: [...groups.without, g.value],
                          })
                        }
                      >
                        Exclude
                      </Button>
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
          </ScrollBox>
          {fresh.length > 0 && (
            <div className="tone-attention small">
              New values not in a group:{' '}
              {fresh.slice(0, 8).map((v) => (
                <span key={v} className="row" style={{ display: 'inline-flex', gap: 6, marginRight: 12 }}>
                  <b>{v}</b>
                  <button
                    type="button"
                    className="text-button"
                    onClick={() => set({ groups: [...groups.groups, groupOf(v)] })}
                  >
                    Add group
                  </button>
                  <button
                    type="button"
                    className="text-button"
                    onClick={() => set({ without: [...groups.without, v] })}
                  >
                    None
                  </button>
                </span>
              ))}
              {fresh.length > 8 && `and ${fresh.length - 8} more`}
            </div>
          )}
          {groups.without.length > 0 && (
            <div className="small muted">
              Without an edition:{' '}
              {groups.without.map((v) => (
                <button
                  key={v}
                  type="button"
                  className="text-button"
                  onClick={() =>
                    set({ without: groups.without.filter((x) => x !== v), groups: [...groups.groups, groupOf(v)] })
                  }
                >
                  {v}
                </button>
              ))}
            </div>
          )}
          <FromFile
            client={client}
            by={groups.by}
            onTake={(taken) => {
              const byValue = new Map(taken.map((g) => [g.value, g]));
              const kept = groups.groups.map((g) => {
                const t = byValue.get(g.value);
                return t
                  ? {
                      ...g,
                      readers: t.readers.length > 0 ? t.readers : g.readers,
                      greeting: t.greeting || g.greeting,
                      fileName: t.fileName || g.fileName,
                    }
                  : g;
              });
              const known = new Set(kept.map((g) => g.value));
              set({
                groups: [...kept, ...taken.filter((g) => !known.has(g.value))].filter((g) => g.value !== ''),
                without: groups.without.filter((v) => !byValue.has(v)),
              });
            }}
          />
        </>
      )}
    </section>
  );
}
