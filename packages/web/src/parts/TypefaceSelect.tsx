import type { BroughtRow } from '@chronicon/core/contract';
import { faceName } from '@chronicon/core/contract/sceneFaces';
import {
  HOUSE_TYPEFACES,
  nameOfTypeface,
  TYPEFACES,
  type Typeface,
  type Typefaces,
} from '@chronicon/core/contract/typefaceNames';
import { Select } from '@mantine/core';
import { useEffect } from 'react';
import { useGet } from '../api/hooks.ts';
import { fetchFaces, type OwnFace } from './ownFaces.ts';

const SAMPLE = 'Visits 12,480 · +4.2%';

const ofRow = ({ name, regular, bold }: BroughtRow): Typeface => ({ kind: 'own', name, regular, bold });
const keyOf = (typeface: Typeface): string => (typeof typeface === 'string' ? typeface : typeface.regular);
const familyOf = (typeface: Typeface): string => {
  if (typeof typeface !== 'string') return faceName(`own-${typeface.regular}`).family;
  return TYPEFACES.find((t) => t.key === typeface)!.name;
};

interface Props {
  value: Typefaces | undefined;
  onChange: (value: Typefaces) => void;
  error?: string | undefined;
}

/** With what a kit writes: words and figures, and what stands large; each offered in its own hand. */
export function TypefaceSelect({ value = HOUSE_TYPEFACES, onChange, error }: Props) {
  const brought = useGet('GET /api/typefaces');
  const own = (brought.data ?? []).map(ofRow);
  const chosen = [value.text, value.heads].filter(
    (t) => typeof t !== 'string' && !own.some((o) => keyOf(o) === keyOf(t)),
  );
  const all: Typeface[] = [...TYPEFACES.map((t) => t.key), ...own, ...chosen];
  const files = all.flatMap((t) => (typeof t === 'string' ? [] : [t.regular])).join(' ');
  useEffect(() => {
    for (const file of files.split(' ')) if (file !== '') fetchFaces([`own-${file}` as OwnFace]);
  }, [files]);
  const data = [...new Map(all.map((t) => [keyOf(t), t])).values()].map((t) => ({
    value: keyOf(t),
    // One that comes with the product may be brought as well.
    label: typeof t === 'string' ? nameOfTypeface(t) : `${t.name} (brought)`,
  }));
  const of = (key: string | null) => all.find((t) => keyOf(t) === key);
  const select = (part: keyof Typefaces, label: string, description: string) => (
    <Select
      label={label}
      description={description}
      data={data}
      value={keyOf(value[part])}
      allowDeselect={false}
      maxDropdownHeight={320}
      onChange={(key) => {
        const typeface = of(key);
        if (typeface !== undefined) onChange({ ...value, [part]: typeface });
      }}
      renderOption={({ option }) => (
        <span className="typeface-option" style={{ fontFamily: `'${familyOf(of(option.value)!)}'` }}>
          <span>{option.label}</span>
          <span className="muted">{SAMPLE}</span>
        </span>
      )}
      error={error}
    />
  );
  return (
    <>
      {select('text', 'Text and numbers', 'Tables, charts and body text')}
      {select('heads', 'Headings', 'Titles, headings and headline figures')}
    </>
  );
}
