import type { Client, ImportDetail, NewMetric } from '@chronicon/core/contract';
import {
  DATE_STYLE_LABELS,
  type DateStyle,
  NUMBER_STYLE_LABELS,
  NUMBER_STYLES,
} from '@chronicon/core/contract/fileStyles';
import { Button, Checkbox, NativeSelect, TextInput } from '@mantine/core';
import { useState } from 'react';
import { ApiError, call } from '../../api/call.ts';
import { useChange, useGet } from '../../api/hooks.ts';
import { Choice } from '../../parts/Choice.tsx';
import { fieldError, formError, Notice } from '../../parts/Notice.tsx';
import { Unsaved } from '../../parts/Unsaved.tsx';
import { ColumnUse } from './ColumnUse.tsx';
import type { Mapping } from './mapping.ts';
import { Preview } from './Preview.tsx';
import { convertedIn, Rates } from './Rates.tsx';

type Found = NonNullable<ImportDetail['inspection']>;

const ASKED: Record<Found['doubts'][number], string> = {
  dates: 'the date format',
  numbers: 'the number format',
  currency: 'what to do with rows in another currency',
  rates: 'the exchange rate for the new days',
};

/** What days and numbers mean; a doubt is asked before anything else. */
function Styles({
  found,
  mapping,
  settled,
  others,
  onChange,
}: {
  found: Found;
  mapping: Mapping;
  settled: ReadonlySet<string>;
  /** Currencies beside the client's that rows of the file are in. */
  others: readonly string[];
  onChange: (patch: Partial<Mapping>, settles?: string) => void;
}) {
  const dateStyles = found.dateStyles.length > 0 ? found.dateStyles : (['ymd'] as DateStyle[]);
  const shown = dateStyles.includes(mapping.dates) ? dateStyles : [...dateStyles, mapping.dates];
  const open = (what: Found['doubts'][number]) => found.doubts.includes(what) && !settled.has(what);
  return (
    <div className="row" style={{ alignItems: 'start' }}>
      <div className={open('dates') ? 'asked' : ''}>
        <NativeSelect
          label="Date format"
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
          label="Number format"
          data={[
            ...(open('numbers') ? [{ value: '', label: 'Does 1.234 mean 1,234 or 1.234?' }] : []),
            ...NUMBER_STYLES.map((value) => ({ value, label: NUMBER_STYLE_LABELS[value] })),
          ]}
          value={open('numbers') ? '' : mapping.numbers}
          onChange={(e) =>
            e.currentTarget.value && onChange({ numbers: e.currentTarget.value as Mapping['numbers'] }, 'numbers')
          }
        />
      </div>
      <div>
        <div className="label">Days without rows</div>
        <Choice
          label="Days without rows"
          options={[
            { value: 'zero', label: 'treat as zero' },
            { value: 'missing', label: 'treat as missing' },
          ]}
          value={mapping.gaps}
          onChange={(gaps) => onChange({ gaps })}
        />
      </div>
      <div>
        <div className="label">Unreadable rows</div>
        <Choice
          label="Unreadable rows"
          options={[
            { value: 'unknown', label: 'mark the day incomplete' },
            { value: 'none', label: 'ignore' },
          ]}
          value={mapping.aside ?? 'unknown'}
          onChange={(aside) => onChange({ aside })}
        />
      </div>
      {found.hasTotals && (
        <div>
          <div className="label">Rows marked as totals</div>
          <Choice
            label="Rows marked as totals"
            options={[
              { value: 'left-out', label: 'skip' },
              { value: 'rows', label: 'import like other rows' },
            ]}
            value={mapping.totals ?? 'left-out'}
            onChange={(totals) => onChange({ totals })}
          />
        </div>
      )}
      {(others.length > 0 || found.doubts.includes('currency') || mapping.otherCurrency) && (
        <div className={open('currency') ? 'asked' : ''}>
          <div className="label">Rows in {others.join(', ') || 'another currency'}</div>
          <Choice
            label={`Rows in ${others.join(', ') || 'another currency'}`}
            options={[
              { value: 'converted', label: 'convert' },
              { value: 'split', label: 'import into a separate feed' },
              { value: 'left-out', label: 'skip' },
              { value: 'unknown', label: 'mark the day incomplete' },
            ]}
            value={open('currency') ? null : (mapping.otherCurrency ?? null)}
            onChange={(otherCurrency) => onChange({ otherCurrency }, 'currency')}
          />
        </div>
      )}
    </div>
  );
}

/** Says what the columns are, and begins. */
export function Mapper({ client, file, found }: { client: Client; file: ImportDetail; found: Found }) {
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
  const known = new Set([...file.known.measures, ...file.known.brought].map((m) => m.key));
  const others = file.known.brought.filter((t) => t.by !== feed);
  const beside = others.filter((t) =>
    Object.values(mapping.columns).some((u) => u.as === 'measure' && u.key === t.key),
  );
  const [together, setTogether] = useState(file.known.together);
  const measures = Object.entries(mapping.columns).flatMap(([column, u]) =>
    u.as === 'measure' && !known.has(u.key) ? [{ column, key: u.key }] : [],
  );
  const fresh: NewMetric[] = measures.map(({ column, key }) => ({
    key,
    label: column.slice(0, 60),
    unit: found.columns.find((c) => c.name === column)?.unit ?? 'count',
    polarity: 'higher',
    kind: found.columns.find((c) => c.name === column)?.rates ? 'weighted' : 'sum',
    ...metrics[key],
  }));
  const begin = useChange(() =>
    call('POST /api/clients/:client/imports/:import/begin', {
      params: { client: client.id, import: file.id },
      body: {
        mapping,
        feed: feed === '' ? null : feed,
        name: name.trim(),
        metrics: fresh,
        together: together && beside.length > 0,
      },
    }),
  );
  const nameOf = (key: string): string =>
    fresh.find((m) => m.key === key)?.label ??
    [...file.known.measures, ...file.known.brought, ...file.known.dimensions].find((k) => k.key === key)?.label ??
    Object.entries(mapping.columns).find(([, u]) => 'key' in u && u.key === key)?.[0] ??
    key;
  const money = new Set(fresh.filter((m) => m.unit === 'money').map((m) => m.key));
  const isOther = (named: string) => !found.ownSigns.includes(named);
  const currencies = found.columns.flatMap((c) =>
    mapping.columns[c.name]?.as === 'currency' ? (c.currencies ?? []).filter(isOther) : [],
  );
  const converted = convertedIn(found, mapping, isOther);
  const doubts = found.doubts.filter((d) => !settled.has(d));
  const files = (feeds.data ?? []).filter((f) => f.source === 'file' && f.state !== 'removed');
  const shownFaults = begin.error instanceof ApiError ? Object.keys(begin.error.fields) : [];
  return (
    <div className="stack">
      <Unsaved
        when={mapping !== found.mapping && !begin.isPending && !begin.isSuccess}
        what="how this file is imported"
      />
      {found.notices.map((n) => (
        <Notice key={n}>{n}</Notice>
      ))}
      <section className="card stack">
        <h2>Columns</h2>
        <Styles
          found={found}
          mapping={mapping}
          settled={settled}
          others={currencies}
          onChange={(patch, settles) => {
            setMapping((m) => ({ ...m, ...patch }));
            if (settles) setSettled((s) => new Set([...s, settles]));
          }}
        />
        {converted.length > 0 && (
          <div className={doubts.includes('rates') ? 'asked' : ''}>
            <Rates
              currencies={converted}
              currency={client.currency}
              days={found.days}
              rates={mapping.rates ?? []}
              onChange={(rates) => {
                setMapping((m) => ({ ...m, rates }));
                if (rates.length > (found.mapping.rates ?? []).length) setSettled((s) => new Set([...s, 'rates']));
              }}
            />
          </div>
        )}
        <table className="list">
          <thead>
            <tr>
              <th>Column</th>
              <th>Examples</th>
              <th style={{ width: 160 }}>Used as</th>
              <th>Name</th>
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
                  others={others}
                  metric={fresh.find((m) => m.key === key) ?? null}
                  weights={Object.entries(mapping.columns).flatMap(([name, u]) =>
                    u.as === 'measure' && u.key !== key ? [{ value: u.key, label: name }] : [],
                  )}
                  currency={client.currency}
                  isOwnMoney={mapping.ownMoney?.includes(c.name) ?? false}
                  onOwnMoney={(own) =>
                    setMapping((m) => {
                      const rest = (m.ownMoney ?? []).filter((n) => n !== c.name);
                      return { ...m, ownMoney: own ? [...rest, c.name] : rest };
                    })
                  }
                  onConverted={(currency) =>
                    setMapping((m) => {
                      const use = m.columns[c.name]!;
                      if (use.as !== 'measure') return m;
                      const { currency: _, ...rest } = use;
                      return { ...m, columns: { ...m.columns, [c.name]: currency ? { ...rest, currency } : rest } };
                    })
                  }
                  error={fieldError(begin.error, `columns.${c.name}`) ?? fieldError(begin.error, `metrics.${key}`)}
                  onUse={(next) =>
                    setMapping((m) => {
                      const columns = Object.fromEntries(
                        Object.entries(m.columns).map(([n, u]) => [
                          n,
                          // There is one date, and one currency.
                          n !== c.name && next.as === u.as && (u.as === 'date' || u.as === 'currency')
                            ? ({ as: 'skip' } as const)
                            : u,
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
        <h2>Preview of the first rows</h2>
        <Preview client={client} file={file} mapping={mapping} nameOf={nameOf} money={money} />
      </section>
      <section className="card stack">
        <div className="row" style={{ alignItems: 'end' }}>
          {files.length > 0 && (
            <NativeSelect
              label="Import into"
              data={[...files.map((f) => ({ value: f.id, label: f.name })), { value: '', label: 'a new feed' }]}
              value={feed}
              onChange={(e) => setFeed(e.currentTarget.value)}
              error={fieldError(begin.error, 'feed')}
            />
          )}
          {feed === '' && (
            <TextInput
              label="Feed name"
              value={name}
              onChange={(e) => setName(e.currentTarget.value)}
              error={fieldError(begin.error, 'name')}
            />
          )}
          <Button disabled={doubts.length > 0} loading={begin.isPending} onClick={() => begin.mutate()}>
            Import file
          </Button>
          {doubts.length > 0 && (
            <span className="tone-attention small">■ Choose {doubts.map((d) => ASKED[d]).join(', and ')} first.</span>
          )}
        </div>
        {beside.length > 0 && (
          <Checkbox
            label={`Add ${beside.map((t) => t.label).join(', ')} to the data of “${beside[0]!.feed}”`}
            description="You can still see each feed separately. Otherwise, import it as a new metric"
            checked={together}
            onChange={(e) => setTogether(e.currentTarget.checked)}
          />
        )}
        <span className="muted small">
          Days in this file replace earlier data for those days. Later files use the same settings.
        </span>
        <Notice
          error={formError(begin.error, ['feed', 'name', ...shownFaults.filter((f) => /^(columns|metrics)\./.test(f))])}
        />
      </section>
    </div>
  );
}
