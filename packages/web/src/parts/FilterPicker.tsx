import type { FilterHow, FilterPart } from '@chronicon/core/contract/figuresText';
import { Button, NativeSelect, TagsInput, TextInput } from '@mantine/core';
import { useState } from 'react';
import { useGet } from '../api/hooks.ts';
import { Choice } from './Choice.tsx';
import { SEGMENT } from './filterWords.ts';
import { KeepSegment } from './KeepSegment.tsx';

interface Props {
  client: string;
  dimensions: readonly { key: string; label: string }[];
  parts: readonly FilterPart[];
  onChange: (parts: FilterPart[]) => void;
  /** Values are only kept, never left out, and no segments are offered: of targets. */
  keepOnly?: boolean;
  /** Of dimensions alone: a segment is made of no others. */
  plain?: boolean;
  /** Without a filter yet, the values of the first dimension are at hand. */
  opensFirst?: boolean;
}

interface PartProps {
  keepOnly: boolean;
  client: string;
  label: string;
  part: FilterPart;
  onChange: (part: FilterPart) => void;
  onRemove: () => void;
}

const FEW = 9;
const HOWS: readonly { value: FilterHow; label: string }[] = [
  { value: 'only', label: 'only' },
  { value: 'except', label: 'all except' },
  { value: 'contains', label: 'contains' },
  { value: 'lacks', label: 'does not contain' },
];
const byText = (how: FilterHow): boolean => how === 'contains' || how === 'lacks';

/** Values of a dimension to tick, found by their text. */
function Values({ client, label, part, onChange }: Omit<PartProps, 'keepOnly' | 'onRemove'>) {
  const [text, setText] = useState('');
  const found = useGet(
    'GET /api/clients/:client/labels',
    { params: { client }, query: { dimension: part.dimension, text } },
    { keep: true },
  );
  const all = found.data?.labels ?? [];
  // What is chosen stays in sight, whatever is searched for.
  const shown = [...part.values.filter((v) => !all.includes(v)), ...all];
  const toggle = (value: string) =>
    onChange({
      ...part,
      values: part.values.includes(value) ? part.values.filter((v) => v !== value) : [...part.values, value],
    });
  return (
    <>
      {(all.length > FEW || text !== '') && (
        <TextInput
          size="xs"
          aria-label={`Find a value of ${label}`}
          placeholder="Find a value"
          value={text}
          onChange={(e) => setText(e.currentTarget.value)}
        />
      )}
      <fieldset className="values" aria-label={`Values of ${label}`}>
        {shown.map((value) => (
          <label key={value}>
            <input type="checkbox" checked={part.values.includes(value)} onChange={() => toggle(value)} />
            {value || '(unnamed)'}
          </label>
        ))}
        {found.data && shown.length === 0 && <span className="muted small">No matching values.</span>}
        {found.data?.more && <span className="muted small">More available – search by name.</span>}
      </fieldset>
    </>
  );
}

/** What is kept of one dimension, or left out of it. */
function Part({ client, label, part, onChange, onRemove, keepOnly }: PartProps) {
  return (
    <div className="stack" style={{ gap: 6 }}>
      <div className="row" style={{ justifyContent: 'space-between' }}>
        <b>{label}</b>
        <Button size="compact-xs" variant="subtle" color="red" onClick={onRemove} aria-label={`Remove ${label}`}>
          Remove
        </Button>
      </div>
      {!keepOnly && (
        <Choice
          label={`${label}: include or exclude`}
          options={HOWS}
          value={part.how}
          // Values are no texts to look for, and the other way round.
          onChange={(how) => onChange({ ...part, how, values: byText(how) === byText(part.how) ? part.values : [] })}
        />
      )}
      {byText(part.how) ? (
        <TagsInput
          aria-label={`Texts of ${label}`}
          placeholder="Type and press Enter"
          value={[...part.values]}
          onChange={(values) => onChange({ ...part, values })}
        />
      ) : (
        <Values client={client} label={label} part={part} onChange={onChange} />
      )}
    </div>
  );
}

/** The named filters that are chosen: each of them has to hold. */
function Segments({
  client,
  chosen,
  onChange,
}: {
  client: string;
  chosen: FilterPart | undefined;
  onChange: (ids: string[]) => void;
}) {
  const found = useGet('GET /api/clients/:client/segments', { params: { client } });
  const values = chosen?.values ?? [];
  const gone = values.filter((id) => found.data && !found.data.some((s) => s.id === id));
  if ((found.data ?? []).length === 0 && gone.length === 0) return null;
  const toggle = (id: string) => onChange(values.includes(id) ? values.filter((v) => v !== id) : [...values, id]);
  const shown = [...(found.data ?? []), ...gone.map((id) => ({ id, name: 'Deleted segment' }))];
  return (
    <fieldset className="values" aria-label="Segments">
      {shown.map(({ id, name }) => (
        <label key={id}>
          <input type="checkbox" checked={values.includes(id)} onChange={() => toggle(id)} />
          {name}
        </label>
      ))}
    </fieldset>
  );
}

/** The filter: segments, and one part for each dimension; a part without values keeps everything until one is chosen. */
export function FilterPicker({
  client,
  dimensions,
  parts,
  onChange,
  keepOnly = false,
  plain = false,
  opensFirst = false,
}: Props) {
  const [first] = dimensions;
  const [drafts, setDrafts] = useState<readonly FilterPart[]>(
    opensFirst && parts.length === 0 && first ? [{ dimension: first.key, how: 'only', values: [] }] : parts,
  );
  const labelOf = (key: string) => dimensions.find((d) => d.key === key)?.label ?? key;
  const own = drafts.filter((p) => p.dimension !== SEGMENT);
  const free = dimensions.filter((d) => !own.some((p) => p.dimension === d.key));
  const set = (next: FilterPart[]) => {
    setDrafts(next);
    onChange(next.filter((p) => p.values.length > 0));
  };
  const named = keepOnly || plain;
  const worded = own.filter((p) => p.values.length > 0);
  return (
    <div className="stack">
      {!named && (
        <Segments
          client={client}
          chosen={drafts.find((p) => p.dimension === SEGMENT)}
          onChange={(ids) =>
            set([...own, ...(ids.length > 0 ? [{ dimension: SEGMENT, how: 'only' as const, values: ids }] : [])])
          }
        />
      )}
      {own.map((part) => (
        <Part
          key={part.dimension}
          client={client}
          label={labelOf(part.dimension)}
          part={part}
          keepOnly={keepOnly}
          onChange={(p) => set(drafts.map((x) => (x.dimension === p.dimension ? p : x)))}
          onRemove={() => set(drafts.filter((x) => x.dimension !== part.dimension))}
        />
      ))}
      {free.length > 0 && (
        <NativeSelect
          aria-label="Filter by"
          data={[{ value: '', label: 'Filter by…' }, ...free.map((d) => ({ value: d.key, label: d.label }))]}
          value=""
          onChange={(e) => {
            const dimension = e.currentTarget.value;
            if (dimension) setDrafts([...drafts, { dimension, how: 'only', values: [] }]);
          }}
        />
      )}
      {!named && worded.length > 0 && (
        <KeepSegment
          client={client}
          parts={worded}
          onKept={(id) => {
            const before = drafts.find((p) => p.dimension === SEGMENT)?.values ?? [];
            set([{ dimension: SEGMENT, how: 'only', values: [...before, id] }]);
          }}
        />
      )}
    </div>
  );
}
