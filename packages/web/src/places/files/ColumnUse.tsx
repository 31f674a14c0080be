import type { ImportDetail, NewMetric } from '@chronicon/core/contract';
import { keyOfName } from '@chronicon/core/contract/fileStyles';
import { NativeSelect, Select, TextInput } from '@mantine/core';

type Column = NonNullable<ImportDetail['inspection']>['columns'][number];
type Use = Column['use'];

const OWN = '';
const UNITS = [
  { value: 'count', label: 'counted' },
  { value: 'money', label: 'money' },
  { value: 'decimal', label: 'a decimal' },
  { value: 'duration', label: 'seconds' },
  { value: 'percent', label: 'a share' },
];

/** By what the numbers of a column are multiplied. */
const SCALES = [
  { value: '0', label: 'unchanged' },
  { value: '-2', label: 'in hundredths' },
  { value: '-3', label: 'in thousandths' },
  { value: '-6', label: 'in millionths' },
  { value: '3', label: 'in thousands' },
  { value: '6', label: 'in millions' },
];

/** How rows come together: of rates never by adding them up. */
const KINDS = [
  { value: 'sum', label: 'sum' },
  { value: 'level', label: 'latest value' },
  { value: 'weighted', label: 'weighted average by' },
];
const KINDS_OF_RATES = [
  { value: 'weighted', label: 'weighted average by' },
  { value: 'level', label: 'latest value' },
  { value: 'sum', label: 'sum' },
];

interface Props {
  column: Column;
  use: Use;
  known: ImportDetail['known'];
  /** What other feeds bring already. */
  others: ImportDetail['known']['brought'];
  /** What a new metric is, when it is one. */
  metric: NewMetric | null;
  /** The other figures of the file, by which a rate may be weighted. */
  weights: { value: string; label: string }[];
  error: string | undefined;
  /** The client's currency. */
  currency: string;
  /** Whether a person says that its money is in the client's currency, whatever its heading says. */
  isOwnMoney: boolean;
  onOwnMoney: (own: boolean) => void;
  /** From which currency it is converted; null for none. */
  onConverted: (currency: string | null) => void;
  onUse: (use: Use) => void;
  onMetric: (patch: Partial<NewMetric>) => void;
}

/** One column of a file: what it is, and what it is called among the client's figures. */
export function ColumnUse({
  column,
  use,
  known,
  others,
  metric,
  weights,
  error,
  currency,
  isOwnMoney,
  onOwnMoney,
  onConverted,
  onUse,
  onMetric,
}: Props) {
  const taken = others.map(({ key, label, feed }) => ({ key, label: `${label}, together with ${feed}` }));
  const list =
    use.as === 'measure'
      ? [...known.measures.filter((k) => !others.some((o) => o.key === k.key)), ...taken]
      : known.dimensions;
  const named = 'key' in use ? use.key : '';
  // Money in cents, and numbers that are larger than anything is counted: any other stands as it is.
  const mayBeScaled =
    use.as === 'measure' &&
    (use.scale !== undefined || metric?.unit === 'money' || column.samples.every((s) => /^\d{6,}$/.test(s)));
  const isKnown = list.some((k) => k.key === named);
  const takeAs = (as: string) => {
    if (as === 'date' || as === 'currency' || as === 'skip') onUse({ as });
    else onUse({ as: as as 'dimension' | 'measure', key: named || keyOfName(column.name) });
  };
  return (
    <tr>
      <td>
        <b>{column.name}</b>
      </td>
      <td className="small muted">
        {column.samples.join(' · ') || 'empty'}
        {column.rates && <div className="tone-attention">■ rates or averages</div>}
        {column.currency && <div className="tone-attention">■ in {column.currency}</div>}
      </td>
      <td>
        <NativeSelect
          aria-label={`Use of ${column.name}`}
          data={[
            { value: 'date', label: 'the date' },
            { value: 'measure', label: 'a figure' },
            { value: 'dimension', label: 'a breakdown' },
            { value: 'currency', label: 'the currency' },
            { value: 'skip', label: 'skipped' },
          ]}
          value={use.as}
          onChange={(e) => takeAs(e.currentTarget.value)}
        />
      </td>
      <td>
        {use.as === 'measure' && column.currency && (
          <NativeSelect
            mb={6}
            aria-label={`Money of ${column.name}`}
            data={[
              { value: '', label: `In ${column.currency}?` },
              { value: 'converted', label: `is converted from ${column.currency}` },
              { value: 'own', label: `is in ${currency} after all` },
            ]}
            value={isOwnMoney ? 'own' : use.currency ? 'converted' : ''}
            onChange={(e) => {
              onOwnMoney(e.currentTarget.value === 'own');
              onConverted(e.currentTarget.value === 'converted' ? column.currency! : null);
            }}
          />
        )}
        {'key' in use && (
          <div className="row" style={{ gap: 6, alignItems: 'start' }}>
            <Select
              aria-label={`Use of ${column.name} called`}
              w={190}
              searchable
              data={[
                { value: OWN, label: use.as === 'measure' ? 'a new metric' : `“${column.name}”` },
                ...list
                  .filter((k, i) => list.findIndex((x) => x.key === k.key) === i)
                  .map((k) => ({ value: k.key, label: k.label })),
              ]}
              value={isKnown ? named : OWN}
              onChange={(key) => onUse({ ...use, key: key || keyOfName(column.name) })}
              error={error}
            />
            {use.as === 'measure' && mayBeScaled && (
              <NativeSelect
                w={134}
                aria-label={`Scale of ${column.name}`}
                data={SCALES}
                value={String(use.scale ?? 0)}
                onChange={(e) => onUse({ ...use, scale: Number(e.currentTarget.value) })}
              />
            )}
            {metric && (
              <>
                <TextInput
                  aria-label={`Name of ${column.name}`}
                  w={150}
                  value={metric.label}
                  onChange={(e) => onMetric({ label: e.currentTarget.value })}
                />
                <NativeSelect
                  w={112}
                  aria-label={`Unit of ${column.name}`}
                  data={UNITS}
                  value={metric.unit}
                  onChange={(e) => onMetric({ unit: e.currentTarget.value as NewMetric['unit'] })}
                />
                <NativeSelect
                  w={column.rates ? 190 : 130}
                  aria-label={`How ${column.name} sum`}
                  data={column.rates ? KINDS_OF_RATES : KINDS}
                  value={metric.kind}
                  onChange={(e) => {
                    const kind = e.currentTarget.value as NewMetric['kind'];
                    onMetric({ kind, noRates: column.rates === true && kind === 'sum' });
                  }}
                />
                {metric.kind === 'weighted' && (
                  <NativeSelect
                    w={150}
                    aria-label={`Weight column of ${column.name}`}
                    data={[{ value: '', label: 'which column?' }, ...weights]}
                    value={metric.weight ?? ''}
                    onChange={(e) => onMetric({ weight: e.currentTarget.value })}
                  />
                )}
              </>
            )}
          </div>
        )}
      </td>
    </tr>
  );
}
