import type { Client, ImportDetail, NewMetric } from '@chronicon/core/contract';
import {
  DATE_STYLE_LABELS,
  type DateStyle,
  ENCODING_LABELS,
  ENCODINGS,
  NUMBER_STYLE_LABELS,
  NUMBER_STYLES,
  SEPARATOR_LABELS,
  SEPARATORS,
} from '@chronicon/core/contract/fileStyles';
import { Button, NativeSelect, TextInput } from '@mantine/core';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import type { Body } from '../../api/call.ts';
import { ApiError, call } from '../../api/call.ts';
import { useChange, useGet } from '../../api/hooks.ts';
import { Choice } from '../../parts/Choice.tsx';
import { Loading } from '../../parts/Loading.tsx';
import { fieldError, formError, Notice } from '../../parts/Notice.tsx';
import { ScrollBox } from '../../parts/ScrollBox.tsx';
import { plainDate, plural } from '../../parts/when.ts';
import { ProgressBar } from '../client/feedWords.tsx';
import { ColumnUse } from './ColumnUse.tsx';
import { ImportState, Rejects } from './Imports.tsx';

type Mapping = Body<'POST /api/clients/:client/imports/:import/preview'>['mapping'];
type Found = NonNullable<ImportDetail['inspection']>;

const count = (n: number) => n.toLocaleString('en-GB');
const cents = (n: number) => n.toLocaleString('en-GB', { minimumFractionDigits: 2, maximumFractionDigits: 2 });
const sizeOf = (bytes: number) =>
  bytes < 1_000_000 ? `${Math.max(1, Math.round(bytes / 1000))} kB` : `${Math.round(bytes / 100_000) / 10} MB`;

/** How the file is written: what was found out, and can be told otherwise. */
function HowWritten({ client, file }: { client: Client; file: ImportDetail }) {
  const { reading } = file;
  const look = useChange((change: Partial<typeof reading>) =>
    call('POST /api/clients/:client/imports/:import/look', {
      params: { client: client.id, import: file.id },
      body: { ...reading, ...change },
    }),
  );
  if (reading.format === 'jsonl') return null;
  return (
    <div className="row">
      {reading.format === 'text' && (
        <>
          <NativeSelect
            label="Letters"
            data={ENCODINGS.map((value) => ({ value, label: ENCODING_LABELS[value] }))}
            value={reading.encoding}
            disabled={look.isPending}
            onChange={(e) => look.mutate({ encoding: e.currentTarget.value as typeof reading.encoding })}
          />
          <NativeSelect
            label="Cells are parted by"
            data={SEPARATORS.map((value) => ({ value, label: SEPARATOR_LABELS[value] }))}
            value={reading.separator}
            disabled={look.isPending}
            onChange={(e) => look.mutate({ separator: e.currentTarget.value as typeof reading.separator })}
          />
        </>
      )}
      {reading.format === 'xlsx' && (
        <NativeSelect
          label="Sheet"
          data={reading.sheets}
          value={reading.sheet ?? ''}
          disabled={look.isPending}
          onChange={(e) => look.mutate({ sheet: e.currentTarget.value })}
        />
      )}
      <Notice error={look.error} />
    </div>
  );
}

/** What days and numbers mean; a doubt is asked before anything else. */
function Styles({
  found,
  mapping,
  settled,
  onChange,
}: {
  found: Found;
  mapping: Mapping;
  settled: ReadonlySet<string>;
  onChange: (patch: Partial<Mapping>, settles?: string) => void;
}) {
  const dateStyles = found.dateStyles.length > 0 ? found.dateStyles : (['ymd'] as DateStyle[]);
  const shown = dateStyles.includes(mapping.dates) ? dateStyles : [...dateStyles, mapping.dates];
  const open = (what: 'dates' | 'numbers') => found.doubts.includes(what) && !settled.has(what);
  return (
    <div className="row" style={{ alignItems: 'start' }}>
      <div className={open('dates') ? 'asked' : ''}>
        <NativeSelect
          label="Dates are written"
          data={[
            ...(open('dates') ? [{ value: '', label: 'Which comes first, day or month?' }] : []),
            ...shown.map((value) => ({ value, label: DATE_STYLE_LABELS[value] })),
          ]}
          value={open('dates') ? '' : mapping.dates}
          onChange={(e) => e.currentTarget.value && onChange({ dates: e.currentTarget.value as DateStyle }, 'dates')}
        />
      </div>
      <div className={open('numbers') ? 'asked' : ''}>
        <NativeSelect
          label="Numbers are written"
          data={[
            ...(open('numbers') ? [{ value: '', label: 'Is 1.234 more than a thousand?' }] : []),
            ...NUMBER_STYLES.map((value) => ({ value, label: NUMBER_STYLE_LABELS[value] })),
          ]}
          value={open('numbers') ? '' : mapping.numbers}
          onChange={(e) =>
            e.currentTarget.value && onChange({ numbers: e.currentTarget.value as Mapping['numbers'] }, 'numbers')
          }
        />
      </div>
      <div>
        <div className="label">Days without a row</div>
        <Choice
          label="Days without a row"
          options={[
            { value: 'zero', label: 'count as zero' },
            { value: 'missing', label: 'are not known' },
          ]}
          value={mapping.gaps}
          onChange={(gaps) => onChange({ gaps })}
        />
      </div>
    </div>
  );
}

/** The first rows as they will be read, the moment that anything is chosen. */
function Preview({
  client,
  file,
  mapping,
  nameOf,
  money,
}: {
  client: Client;
  file: ImportDetail;
  mapping: Mapping;
  nameOf: (key: string) => string;
  /** Figures that are money. */
  money: ReadonlySet<string>;
}) {
  const preview = useQuery({
    queryKey: ['preview', file.id, mapping],
    queryFn: () =>
      call('POST /api/clients/:client/imports/:import/preview', {
        params: { client: client.id, import: file.id },
        body: { mapping },
      }),
    placeholderData: keepPreviousData,
  });
  if (preview.error) return <Notice error={preview.error} />;
  if (!preview.data) return <Loading lines={3} />;
  const { fault, columns, rows } = preview.data;
  const measures = new Set(Object.values(mapping.columns).flatMap((u) => (u.as === 'measure' ? [u.key] : [])));
  if (fault) return <Notice>{fault.message}</Notice>;
  return (
    <ScrollBox label="The first rows as they will be read">
      <table className="list">
        <thead>
          <tr>
            <th className="num">Row</th>
            {columns.map((c) => (
              <th key={c} className={measures.has(c) ? 'num' : ''}>
                {c === 'day' ? 'Day' : nameOf(c)}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map((r) => (
            <tr key={r.row}>
              <td className="num muted">{r.row}</td>
              {r.cells ? (
                r.cells.map((cell, i) => (
                  <td key={columns[i]} className={typeof cell === 'number' ? 'num' : ''}>
                    {typeof cell === 'number'
                      ? (money.has(columns[i]!) ? cents : count)(cell)
                      : i === 0
                        ? plainDate(cell)
                        : cell || <span className="muted">–</span>}
                  </td>
                ))
              ) : (
                <td colSpan={columns.length} className="tone-attention">
                  set aside: {r.problem}
                </td>
              )}
            </tr>
          ))}
        </tbody>
      </table>
    </ScrollBox>
  );
}

/** Says what the columns are, and begins. */
function Mapper({ client, file, found }: { client: Client; file: ImportDetail; found: Found }) {
  const feeds = useGet('GET /api/clients/:client/feeds', { params: { client: client.id } });
  const [mapping, setMapping] = useState<Mapping>(found.mapping);
  const [settled, setSettled] = useState<ReadonlySet<string>>(new Set());
  const [metrics, setMetrics] = useState<Record<string, Partial<NewMetric>>>({});
  const [feed, setFeed] = useState(file.feed ?? '');
  const [name, setName] = useState(
    file.fileName
      .replace(/\.[^.]+$/, '')
      .replace(/[_-]+/g, ' ')
      .slice(0, 60),
  );
  const known = new Set(file.known.measures.map((m) => m.key));
  const measures = Object.entries(mapping.columns).flatMap(([column, u]) =>
    u.as === 'measure' && !known.has(u.key) ? [{ column, key: u.key }] : [],
  );
  const fresh: NewMetric[] = measures.map(({ column, key }) => ({
    key,
    label: column.slice(0, 60),
    unit: 'count',
    polarity: 'higher',
    kind: 'sum',
    ...metrics[key],
  }));
  const begin = useChange(() =>
    call('POST /api/clients/:client/imports/:import/begin', {
      params: { client: client.id, import: file.id },
      body: { mapping, feed: feed === '' ? null : feed, name: name.trim(), metrics: fresh },
    }),
  );
  const nameOf = (key: string): string =>
    fresh.find((m) => m.key === key)?.label ??
    [...file.known.measures, ...file.known.dimensions].find((k) => k.key === key)?.label ??
    Object.entries(mapping.columns).find(([, u]) => 'key' in u && u.key === key)?.[0] ??
    key;
  const money = new Set(fresh.filter((m) => m.unit === 'money').map((m) => m.key));
  const doubts = found.doubts.filter((d) => !settled.has(d));
  const files = (feeds.data ?? []).filter((f) => f.source === 'file' && f.state !== 'removed');
  const shownFaults = begin.error instanceof ApiError ? Object.keys(begin.error.fields) : [];
  return (
    <div className="stack">
      {found.notices.map((n) => (
        <Notice key={n}>{n}</Notice>
      ))}
      <section className="card stack">
        <h2>What the columns hold</h2>
        <Styles
          found={found}
          mapping={mapping}
          settled={settled}
          onChange={(patch, settles) => {
            setMapping((m) => ({ ...m, ...patch }));
            if (settles) setSettled((s) => new Set([...s, settles]));
          }}
        />
        <table className="list">
          <thead>
            <tr>
              <th>Column</th>
              <th>For example</th>
              <th style={{ width: 160 }}>Is</th>
              <th>Called</th>
            </tr>
          </thead>
          <tbody>
            {found.columns.map((c) => {
              const use = mapping.columns[c.name]!;
              const key = use.as === 'measure' ? use.key : '';
              return (
                <ColumnUse
                  key={c.name}
                  column={c}
                  use={use}
                  known={file.known}
                  metric={fresh.find((m) => m.key === key) ?? null}
                  error={fieldError(begin.error, `columns.${c.name}`) ?? fieldError(begin.error, `metrics.${key}`)}
                  onUse={(next) =>
                    setMapping((m) => {
                      const columns = Object.fromEntries(
                        Object.entries(m.columns).map(([n, u]) => [
                          n,
                          // There is one date.
                          n !== c.name && next.as === 'date' && u.as === 'date' ? ({ as: 'skip' } as const) : u,
                        ]),
                      );
                      return { ...m, columns: { ...columns, [c.name]: next } };
                    })
                  }
                  onMetric={(patch) => setMetrics((all) => ({ ...all, [key]: { ...all[key], ...patch } }))}
                />
              );
            })}
          </tbody>
        </table>
      </section>
      <section className="card stack">
        <h2>The first rows, as they will be read</h2>
        <Preview client={client} file={file} mapping={mapping} nameOf={nameOf} money={money} />
      </section>
      <section className="card stack">
        <div className="row" style={{ alignItems: 'end' }}>
          {files.length > 0 && (
            <NativeSelect
              label="Goes into"
              data={[...files.map((f) => ({ value: f.id, label: f.name })), { value: '', label: 'a new feed' }]}
              value={feed}
              onChange={(e) => setFeed(e.currentTarget.value)}
              error={fieldError(begin.error, 'feed')}
            />
          )}
          {feed === '' && (
            <TextInput
              label="Name of the feed"
              value={name}
              onChange={(e) => setName(e.currentTarget.value)}
              error={fieldError(begin.error, 'name')}
            />
          )}
          <Button disabled={doubts.length > 0} loading={begin.isPending} onClick={() => begin.mutate()}>
            Import this file
          </Button>
          {doubts.length > 0 && (
            <span className="tone-attention small">■ Say first how {doubts.join(' and ')} are written.</span>
          )}
        </div>
        <span className="muted small">
          Days that the file brings take the place of the same days brought before. The next file of this feed is read
          the same way.
        </span>
        <Notice
          error={formError(begin.error, ['feed', 'name', ...shownFaults.filter((f) => /^(columns|metrics)\./.test(f))])}
        />
      </section>
    </div>
  );
}

/** How an import goes, and what came of it. */
function Outcome({ client, file }: { client: Client; file: ImportDetail }) {
  const navigate = useNavigate();
  const params = { client: client.id, import: file.id };
  const cancel = useChange(() => call('POST /api/clients/:client/imports/:import/cancel', { params }));
  const undo = useChange(() => call('POST /api/clients/:client/imports/:import/undo', { params }));
  const again = useChange(() => call('POST /api/clients/:client/imports/:import/look', { params, body: file.reading }));
  const away = useChange(() => call('DELETE /api/clients/:client/imports/:import', { params }));
  return (
    <section className="card stack">
      {file.state === 'importing' && (
        <>
          <ProgressBar label="Part of the file that was read" done={Math.round(file.progress * 100)} of={100} />
          <span>
            {count(file.good)} rows read{file.bad > 0 && `, ${count(file.bad)} set aside`}. Nothing of it counts before
            all of it is there.
          </span>
          <div>
            <Button variant="outline" loading={cancel.isPending} onClick={() => cancel.mutate()}>
              Stop
            </Button>
          </div>
        </>
      )}
      {file.state === 'done' && file.range && (
        <>
          <span>
            <b>{plural(file.good, 'row').replace(/^\d+/, count(file.good))}</b> of {plainDate(file.range.from)} to{' '}
            {plainDate(file.range.to)} {file.good === 1 ? 'counts' : 'count'} now.
          </span>
          {file.hasRejects && (
            <span>
              <Rejects client={client} of={file} />: rows that could not be read, each with the reason.
            </span>
          )}
          <div className="row">
            <Button component={Link} to={`/figures?client=${client.id}`}>
              Check the figures
            </Button>
            <Button component={Link} to={`/clients/${client.id}/feeds`} variant="outline">
              See feeds
            </Button>
            {file.canUndo && (
              <Button variant="subtle" loading={undo.isPending} onClick={() => undo.mutate()}>
                Take this import back
              </Button>
            )}
          </div>
        </>
      )}
      {file.state === 'undone' && <span>This import was taken back: the days are as they were before it.</span>}
      {(file.state === 'refused' || file.state === 'cancelled') && (
        <>
          <Notice>{file.problem}</Notice>
          {file.hasRejects && <Rejects client={client} of={file} />}
          <div className="row">
            <Button variant="outline" loading={again.isPending} onClick={() => again.mutate()}>
              Look at it again
            </Button>
            <Button
              variant="subtle"
              loading={away.isPending}
              onClick={() => away.mutate(undefined, { onSuccess: () => navigate(`/clients/${client.id}/feeds`) })}
            >
              Put it away
            </Button>
          </div>
        </>
      )}
      <Notice error={cancel.error ?? undo.error ?? again.error ?? away.error} />
    </section>
  );
}

/** A file on its way into the figures: how it is read, what its columns are, what came of it. */
export function ImportPlace() {
  const { client: clientId = '', import: id = '' } = useParams();
  const client = useGet('GET /api/clients/:client', { params: { client: clientId } });
  const moving = (state: string | undefined) => state === 'looking' || state === 'importing';
  const [watch, setWatch] = useState(true);
  const file = useGet(
    'GET /api/clients/:client/imports/:import',
    { params: { client: clientId, import: id } },
    { refetchInterval: watch ? 500 : false },
  );
  if (file.data && watch !== moving(file.data.state)) setWatch(moving(file.data.state));
  if (file.error || client.error) {
    return (
      <main className="place">
        <Notice error={file.error ?? client.error} />
      </main>
    );
  }
  return (
    <main className="place">
      <div className="place-head">
        <h1>{file.data?.fileName ?? ' '}</h1>
        {file.data && (
          <span className="muted small">
            {client.data?.name} · {sizeOf(file.data.bytes)}
          </span>
        )}
        {file.data && <ImportState of={file.data} />}
      </div>
      {!file.data || !client.data ? (
        <Loading />
      ) : file.data.state === 'asking' && file.data.inspection ? (
        <div className="stack">
          <HowWritten client={client.data} file={file.data} />
          <Mapper
            // Looked at in another way, everything is asked anew.
            key={JSON.stringify(file.data.reading)}
            client={client.data}
            file={file.data}
            found={file.data.inspection}
          />
        </div>
      ) : file.data.state === 'looking' ? (
        <Loading />
      ) : (
        <Outcome client={client.data} file={file.data} />
      )}
    </main>
  );
}
