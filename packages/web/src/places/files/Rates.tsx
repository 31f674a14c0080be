import type { ImportDetail } from '@chronicon/core/contract';
import { readTyped } from '@chronicon/core/contract/display';
import { ActionIcon, Button, TextInput } from '@mantine/core';
import { useState } from 'react';
import { DateField } from '../../parts/DateField.tsx';
import type { Mapping } from './mapping.ts';

type Found = NonNullable<ImportDetail['inspection']>;
type Rate = NonNullable<Mapping['rates']>[number];
/** A rate as it is being typed. */
type Typed = Omit<Rate, 'rate'> & { text: string };

const rateIn = (text: string): number | null => {
  const read = readTyped(text);
  return 'value' in read && read.value > 0 ? read.value : null;
};

const isWhole = (t: Typed): boolean => t.from !== '' && t.from <= t.to && rateIn(t.text) !== null;

/** The currencies of a file that its mapping converts, as the file names them. */
export function convertedIn(found: Found, mapping: Mapping, isOther: (currency: string) => boolean): string[] {
  const ofRows =
    mapping.otherCurrency === 'converted'
      ? found.columns.flatMap((c) => (mapping.columns[c.name]?.as === 'currency' ? (c.currencies ?? []) : []))
      : [];
  const ofHeadings = Object.values(mapping.columns).flatMap((u) =>
    u.as === 'measure' && u.currency ? [u.currency] : [],
  );
  return [...new Set([...ofRows.filter(isOther), ...ofHeadings])];
}

/** The rates by which money of other currencies is converted, each for the days on which it holds. */
export function Rates({
  currencies,
  currency,
  days,
  rates,
  onChange,
}: {
  currencies: readonly string[];
  /** The client's. */
  currency: string;
  /** The months that the file seems to be of. */
  days: Found['days'];
  rates: readonly Rate[];
  onChange: (rates: Rate[]) => void;
}) {
  const [typed, setTyped] = useState<Typed[]>(() => rates.map(({ rate, ...r }) => ({ ...r, text: String(rate) })));
  const fresh = (of: string): Typed => ({ currency: of, from: days?.from ?? '', to: days?.to ?? '', text: '' });
  const lacking = currencies.filter((c) => !typed.some((t) => t.currency === c)).map(fresh);
  const shown = [...typed, ...lacking].filter((t) => currencies.includes(t.currency));
  const put = (next: Typed[]) => {
    setTyped(next);
    onChange(next.filter(isWhole).map(({ text, ...r }) => ({ ...r, rate: rateIn(text)! })));
  };
  const change = (at: number, patch: Partial<Typed>) => put(shown.map((t, i) => (i === at ? { ...t, ...patch } : t)));
  return (
    <fieldset className="stack rates" aria-label="Rates">
      <div className="label">Exchange rates, printed on every page that uses this data</div>
      {shown.map((t, i) => (
        <div key={i} className="row" style={{ alignItems: 'start' }}>
          <TextInput
            label={`1 ${t.currency} in ${currency}`}
            w={120}
            inputMode="decimal"
            value={t.text}
            error={t.text !== '' && rateIn(t.text) === null ? 'Enter a rate.' : undefined}
            onChange={(e) => change(i, { text: e.currentTarget.value })}
          />
          <DateField label="From" value={t.from} onChange={(date) => change(i, { from: date })} optional />
          <DateField
            label="To, included"
            value={t.to}
            error={t.from !== '' && t.to !== '' && t.to < t.from ? 'The end date is before the start date.' : undefined}
            onChange={(date) => change(i, { to: date })}
            optional
          />
          {shown.filter((o) => o.currency === t.currency).length > 1 && (
            <ActionIcon
              mt={22}
              variant="subtle"
              aria-label={`Remove this rate of ${t.currency}`}
              onClick={() => put(shown.filter((_, at) => at !== i))}
            >
              ✕
            </ActionIcon>
          )}
          {i === shown.findLastIndex((o) => o.currency === t.currency) && (
            <Button
              mt={22}
              variant="subtle"
              size="compact-sm"
              onClick={() => put([...shown, { ...t, from: '', to: '', text: '' }])}
            >
              Add a rate for other days
            </Button>
          )}
        </div>
      ))}
    </fieldset>
  );
}
