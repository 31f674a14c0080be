import type { FilterPart } from '@chronicon/core/contract/figuresText';
import { Button, NativeSelect, TextInput } from '@mantine/core';
import { useState } from 'react';
import { useGet } from '../../api/hooks.ts';
import { Choice } from '../../parts/Choice.tsx';

interface Props {
  client: string;
  dimensions: readonly { key: string; label: string }[];
  parts: readonly FilterPart[];
  onChange: (parts: FilterPart[]) => void;
  /** Values are only kept, never left out. */
  keepOnly?: boolean;
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

/** The values of one dimension that are kept, or left out. */
function Part({ client, label, part, onChange, onRemove, keepOnly }: PartProps) {
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
    <div className="stack" style={{ gap: 6 }}>
      <div className="row" style={{ justifyContent: 'space-between' }}>
        <b>{label}</b>
        {!keepOnly && (
          <Choice
            label={`${label}: keep or leave out`}
            options={[
              { value: 'only', label: 'only' },
              { value: 'except', label: 'all but' },
            ]}
            value={part.except ? 'except' : 'only'}
            onChange={(v) => onChange({ ...part, except: v === 'except' })}
          />
        )}
        <Button size="compact-xs" variant="subtle" color="red" onClick={onRemove}>
          Remove
        </Button>
      </div>
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
        {found.data && shown.length === 0 && <span className="muted small">No such value.</span>}
        {found.data?.more && <span className="muted small">There are more: find them by their name.</span>}
      </fieldset>
    </div>
  );
}

/** The filter, one part for each dimension; a part without values keeps everything until one is chosen. */
export function FilterPicker({ client, dimensions, parts, onChange, keepOnly = false }: Props) {
  const [drafts, setDrafts] = useState<readonly FilterPart[]>(parts);
  const labelOf = (key: string) => dimensions.find((d) => d.key === key)?.label ?? key;
  const free = dimensions.filter((d) => !drafts.some((p) => p.dimension === d.key));
  const set = (next: FilterPart[]) => {
    setDrafts(next);
    onChange(next.filter((p) => p.values.length > 0));
  };
  return (
    <div className="stack">
      {drafts.map((part) => (
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
            if (dimension) setDrafts([...drafts, { dimension, values: [], except: false }]);
          }}
        />
      )}
    </div>
  );
}
