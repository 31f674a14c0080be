import type { MetricOffer } from '@chronicon/core/contract';
import { Checkbox, ScrollArea, TextInput } from '@mantine/core';
import { useState } from 'react';

const MOST = 6;

interface Props {
  offers: readonly MetricOffer[];
  chosen: readonly string[];
  onChange: (keys: string[]) => void;
}

/** Metrics by part of the trade; those that no feed of the client brings are left out until searched for. */
export function MetricPicker({ offers, chosen, onChange }: Props) {
  const [text, setText] = useState('');
  const wanted = text.trim().toLowerCase();
  const shown = offers.filter((m) =>
    wanted === '' ? m.available || chosen.includes(m.key) : `${m.label} ${m.definition}`.toLowerCase().includes(wanted),
  );
  const fields = [...new Set(shown.map((m) => m.fieldLabel))];
  const toggle = (key: string) => onChange(chosen.includes(key) ? chosen.filter((k) => k !== key) : [...chosen, key]);
  return (
    <div className="stack">
      <TextInput
        aria-label="Find a metric"
        placeholder="Find a metric"
        value={text}
        onChange={(e) => setText(e.currentTarget.value)}
        data-autofocus
      />
      <ScrollArea.Autosize mah={340}>
        <div className="stack">
          {fields.map((field) => (
            <fieldset key={field} className="plain">
              <legend className="small muted">{field}</legend>
              {shown
                .filter((m) => m.fieldLabel === field)
                .map((m) => (
                  <Checkbox
                    key={m.key}
                    size="sm"
                    label={m.label}
                    description={m.available ? undefined : 'no data source'}
                    title={m.definition}
                    checked={chosen.includes(m.key)}
                    disabled={
                      (!chosen.includes(m.key) && (chosen.length >= MOST || !m.available)) ||
                      (chosen.length === 1 && chosen[0] === m.key)
                    }
                    onChange={() => toggle(m.key)}
                  />
                ))}
            </fieldset>
          ))}
          {shown.length === 0 && <span className="muted">No matching metrics.</span>}
        </div>
      </ScrollArea.Autosize>
      <span className="small muted">Up to six; the first is the main one.</span>
    </div>
  );
}
