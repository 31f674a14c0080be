import type { Client, TargetInput, TargetProgress } from '@chronicon/core/contract';
import { createNumbers, type Numbers, readTyped, type TypedNumber } from '@chronicon/core/contract/display';
import type { FilterPart } from '@chronicon/core/contract/figuresText';
import { Button, Checkbox, Input, NativeSelect, TextInput } from '@mantine/core';
import { type FormEvent, useState } from 'react';
import { call } from '../../api/call.ts';
import { useChange, useGet } from '../../api/hooks.ts';
import { DateField, MonthField } from '../../parts/DateField.tsx';
import { FilterPicker } from '../../parts/FilterPicker.tsx';
import { FormEnd } from '../../parts/FormEnd.tsx';
import { Loading } from '../../parts/Loading.tsx';
import { fieldError, Notice } from '../../parts/Notice.tsx';
import { factorOf, quantityText, typedText } from '../../parts/quantity.ts';
import { RowActions } from '../../parts/RowActions.tsx';
import { Unsaved } from '../../parts/Unsaved.tsx';
import { monthOf, plural } from '../../parts/when.ts';
import { useSession } from '../../shell/sessionContext.ts';
import { plainText } from '../figures/figureText.ts';

const OUTLOOK: Record<TargetProgress['outlook'], { mark: string; word: string; tone: string }> = {
  reached: { mark: '●', word: 'reached', tone: 'good' },
  'on-course': { mark: '◕', word: 'on track', tone: 'good' },
  short: { mark: '◔', word: 'will fall short', tone: 'attention' },
  missed: { mark: '■', word: 'missed', tone: 'wrong' },
  open: { mark: '◌', word: 'open', tone: 'muted' },
};

export function Outlook({ target }: { target: TargetProgress }) {
  const { mark, word, tone } = OUTLOOK[target.outlook];
  const over = target.outlook === 'short' && target.metric.polarity === 'lower' ? 'will exceed target' : word;
  return (
    <span className={`state tone-${tone}`}>
      {mark} {over}
    </span>
  );
}

/** Why what is typed is not taken for a number; an empty field is told of when it is saved. */
const UNREAD: Record<Extract<TypedNumber, { fault: string }>['fault'], string | undefined> = {
  empty: undefined,
  words: 'Enter a number, e.g. 28,000 or 2.5.',
  unlike: 'This number is ambiguous. Write thousands as 28,000 or 28000, decimals as 2.5.',
};

/** What a target says of where it stands, in one line. */
export function progressWords(t: TargetProgress, numbers: Numbers): string {
  const { unit } = t.metric;
  const say = (v: TargetProgress['soFar']) => plainText(v, unit, numbers);
  if (t.phase === 'ahead') return 'not started';
  const now = t.phase === 'over' ? say(t.soFar) : `${say(t.soFar)} so far`;
  const ahead =
    t.projection === null
      ? ''
      : 'value' in t.projection
        ? `, ${numbers.figure(t.projection.value, unit)} at this pace`
        : t.projection.na === 'too-early'
          ? '; too early for a forecast'
          : '';
  const days =
    t.daysToReach === null || t.daysToReach === 0
      ? ''
      : t.daysToReach === 'never'
        ? '; won’t be reached at the current rate'
        : `; reached in ${plural(t.daysToReach, 'day')}`;
  return now + ahead + days;
}

/** How far a target is, as a bar: what is there, and where it will end. */
export function TargetBar({ target }: { target: TargetProgress }) {
  const aim = target.input.value;
  const share = (v: TargetProgress['projection']) =>
    v && 'value' in v && aim > 0 ? Math.max(0, Math.min(1.25, v.value / aim)) : 0;
  const there = share(target.soFar);
  const end = share(target.projection);
  return (
    <span className="target-bar" aria-hidden="true">
      <span className="end" style={{ width: `${80 * end}%` }} />
      <span className="there" style={{ width: `${80 * there}%` }} />
      <span className="aim" />
    </span>
  );
}

interface Draft {
  metric: string;
  span: TargetInput['span'];
  at: string;
  /** As it is typed. */
  value: string;
  repeats: boolean;
  only: FilterPart[];
}

function draftOf(t: TargetProgress | null, month: string): Draft {
  if (!t) return { metric: '', span: 'month', at: month, value: '', repeats: true, only: [] };
  const { metric, span, value } = t.input;
  const only = Object.entries(t.input.filter).map(([dimension, values]) => ({
    dimension,
    how: 'only' as const,
    values,
  }));
  const shown = typedText(value, t.metric.unit);
  return t.input.span === 'date'
    ? { metric, span, at: t.input.on, value: shown, repeats: false, only }
    : { metric, span, at: t.input.from, value: shown, repeats: t.input.repeats, only };
}

function TargetForm({ client, target, onDone }: { client: Client; target: TargetProgress | null; onDone: () => void }) {
  const { now } = useSession();
  const known = useGet('GET /api/clients/:client/metrics', { params: { client: client.id } });
  const offers = (known.data?.metrics ?? []).filter((m) => m.available || m.key === target?.metric.key);
  const initial = draftOf(target, now.slice(0, 7));
  const [draft, setDraft] = useState(initial);
  const changed = JSON.stringify(draft) !== JSON.stringify(initial);
  const patch = (p: Partial<Draft>) => setDraft((d) => ({ ...d, ...p }));
  const metric = draft.metric || offers[0]?.key || '';
  const unit = offers.find((m) => m.key === metric)?.unit ?? 'count';
  const narrows = (known.data?.dimensions ?? []).filter((d) =>
    offers.find((m) => m.key === metric)?.dimensions.includes(d.key),
  );
  // A metric that does not know a dimension is not narrowed by it.
  const only = draft.only.filter((p) => narrows.some((d) => d.key === p.dimension));
  const typed = readTyped(draft.value);
  const fault = 'fault' in typed ? UNREAD[typed.fault] : undefined;
  const read = 'value' in typed ? quantityText(typed.value / factorOf(unit), unit, client.currency) : '';
  const save = useChange(async () => {
    const value = 'value' in typed ? typed.value / factorOf(unit) : Number.NaN;
    const filter = Object.fromEntries(only.map((p) => [p.dimension, [...p.values]]));
    const common = { metric, value, filter };
    const body: TargetInput =
      draft.span === 'date'
        ? { ...common, span: 'date', on: draft.at }
        : { ...common, span: draft.span, from: draft.at, repeats: draft.repeats };
    if (target) {
      await call('PUT /api/clients/:client/targets/:target', {
        params: { client: client.id, target: target.id },
        body,
      });
    } else await call('POST /api/clients/:client/targets', { params: { client: client.id }, body });
    onDone();
  });
  const submit = (e: FormEvent) => {
    e.preventDefault();
    save.mutate();
  };
  // Units and choices come with the metrics: a form that changed under the typing hand would garble the number.
  if (!known.data) return known.error ? <Notice error={known.error} /> : <Loading />;
  const scale = {
    percent: 'In percent',
    money: `In ${client.currency}`,
    duration: 'In seconds',
    count: '',
    decimal: '',
    position: '',
  }[unit];
  return (
    <form className="card stack" onSubmit={submit} noValidate>
      <h2>{target ? 'Change the target' : 'A new target'}</h2>
      <Unsaved when={changed && !save.isPending && !save.isSuccess} what="this target" />
      <NativeSelect
        label="Metric"
        data={offers.map((m) => ({ value: m.key, label: m.label }))}
        value={metric}
        onChange={(e) => patch({ metric: e.currentTarget.value })}
        error={fieldError(save.error, 'metric')}
      />
      <TextInput
        label="Target"
        inputMode="decimal"
        autoComplete="off"
        description={[scale, read].filter(Boolean).join(': ')}
        value={draft.value}
        onChange={(e) => patch({ value: e.currentTarget.value })}
        error={fault ?? fieldError(save.error, 'value')}
      />
      <NativeSelect
        label="For"
        data={[
          { value: 'month', label: 'a month' },
          { value: 'quarter', label: 'three months' },
          { value: 'year', label: 'twelve months' },
          { value: 'date', label: 'one date' },
        ]}
        value={draft.span}
        onChange={(e) => {
          const span = e.currentTarget.value as Draft['span'];
          const at = span === 'date' ? `${draft.at.slice(0, 7)}-28` : draft.at.slice(0, 7);
          patch({ span, at });
        }}
        error={fieldError(save.error, 'span')}
      />
      {draft.span === 'date' ? (
        <DateField
          label="On"
          value={draft.at}
          onChange={(date) => patch({ at: date })}
          error={fieldError(save.error, 'on')}
        />
      ) : (
        <>
          <MonthField
            label="Starting month"
            value={draft.at}
            onChange={(date) => patch({ at: date })}
            error={fieldError(save.error, 'from')}
          />
          <Checkbox
            label="Repeats until another target is set"
            checked={draft.repeats}
            onChange={(e) => patch({ repeats: e.currentTarget.checked })}
          />
        </>
      )}
      <Input.Wrapper
        label="Applies to"
        description="Apply to everything, or to one channel, campaign or feed."
        error={fieldError(save.error, 'filter')}
      >
        <FilterPicker
          key={metric}
          client={client.id}
          dimensions={narrows}
          parts={only}
          onChange={(parts) => patch({ only: parts })}
          keepOnly
        />
      </Input.Wrapper>
      <FormEnd
        error={save.error}
        fields={['metric', 'value', 'span', 'on', 'from', 'filter']}
        pending={save.isPending}
        onCancel={onDone}
      />
    </form>
  );
}

/** What a client aims at: where each target stands and will end. */
export function Targets({ client }: { client: Client }) {
  const { member } = useSession();
  const targets = useGet('GET /api/clients/:client/targets', { params: { client: client.id } });
  const [open, setOpen] = useState<TargetProgress | 'new' | null>(null);
  const numbers = createNumbers('en-GB', client.currency);
  const remove = useChange((target: string) =>
    call('DELETE /api/clients/:client/targets/:target', { params: { client: client.id, target } }),
  );
  const mayChange = member.role !== 'reviewer';
  if (targets.error) return <Notice error={targets.error} />;
  if (!targets.data) return <Loading />;
  return (
    <div className={open ? 'columns' : ''}>
      <div className="stack">
        {targets.data.length === 0 && (
          <section className="card stack">
            <h2>No target yet</h2>
            <span className="muted">Targets appear on charts, can be used as a comparison, and show a forecast.</span>
          </section>
        )}
        {targets.data.length > 0 && (
          <table className="list">
            <thead>
              <tr>
                <th>Target</th>
                <th>For</th>
                <th>Now</th>
                <th>
                  <span className="reading-only">Progress</span>
                </th>
                <th>Outlook</th>
                <th>
                  <span className="reading-only">Actions</span>
                </th>
              </tr>
            </thead>
            <tbody>
              {targets.data.map((t) => (
                <tr key={t.id}>
                  <td>
                    <b>{t.metric.label}</b>
                    <br />
                    {t.metric.polarity === 'lower' ? 'at most' : 'at least'}{' '}
                    {numbers.figure(t.input.value, t.metric.unit)}
                    {t.of.length > 0 && <div className="small muted">only {t.of.join('; ')}</div>}
                  </td>
                  <td>
                    {t.span.label}
                    {t.input.span !== 'date' && t.input.repeats && (
                      <div className="small muted">
                        every {{ month: 'month', quarter: 'three months', year: 'twelve months' }[t.input.span]} since{' '}
                        {monthOf(t.input.from)}
                      </div>
                    )}
                  </td>
                  <td>{progressWords(t, numbers)}</td>
                  <td style={{ width: 150 }}>
                    <TargetBar target={t} />
                  </td>
                  <td>
                    <Outlook target={t} />
                  </td>
                  <td>
                    {mayChange && (
                      <RowActions
                        name={[t.metric.label, ...t.of].join(', ')}
                        onChange={() => setOpen(t)}
                        onRemove={() => remove.mutate(t.id)}
                      />
                    )}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        )}
        <Notice error={remove.error} />
        {mayChange && open === null && (
          <div>
            <Button onClick={() => setOpen('new')}>Set a target</Button>
          </div>
        )}
      </div>
      {open && (
        <TargetForm
          key={open === 'new' ? 'new' : open.id}
          client={client}
          target={open === 'new' ? null : open}
          onDone={() => setOpen(null)}
        />
      )}
    </div>
  );
}
