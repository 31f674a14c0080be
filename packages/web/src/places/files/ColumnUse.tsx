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
];

interface Props {
  column: Column;
  use: Use;
  known: ImportDetail['known'];
  /** What a figure of its own is, when it is one. */
  metric: NewMetric | null;
  error: string | undefined;
  onUse: (use: Use) => void;
  onMetric: (patch: Partial<NewMetric>) => void;
}

/** One column of a file: what it is, and what it is called among the client's figures. */
export function ColumnUse({ column, use, known, metric, error, onUse, onMetric }: Props) {
  const list = use.as === 'measure' ? known.measures : known.dimensions;
  const named = 'key' in use ? use.key : '';
  const isKnown = list.some((k) => k.key === named);
  const takeAs = (as: string) => {
    if (as === 'date' || as === 'skip') onUse({ as });
    else onUse({ as: as as 'dimension' | 'measure', key: named || keyOfName(column.name) });
  };
  return (
    <tr>
      <td>
        <b>{column.name}</b>
      </td>
      <td className="small muted">{column.samples.join(' · ') || 'empty'}</td>
      <td>
        <NativeSelect
          aria-label={`What ${column.name} is`}
          data={[
            { value: 'date', label: 'the date' },
            { value: 'measure', label: 'a figure' },
            { value: 'dimension', label: 'a breakdown' },
            { value: 'skip', label: 'not wanted' },
          ]}
          value={use.as}
          onChange={(e) => takeAs(e.currentTarget.value)}
        />
      </td>
      <td>
        {'key' in use && (
          <div className="row" style={{ gap: 6, alignItems: 'start' }}>
            <Select
              aria-label={`What ${column.name} is called`}
              w={190}
              searchable
              data={[
                { value: OWN, label: use.as === 'measure' ? 'a figure of its own' : `“${column.name}”` },
                ...list
                  .filter((k, i) => list.findIndex((x) => x.key === k.key) === i)
                  .map((k) => ({ value: k.key, label: k.label })),
              ]}
              value={isKnown ? named : OWN}
              onChange={(key) => onUse({ as: use.as, key: key || keyOfName(column.name) })}
              error={error}
            />
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
                  w={112}
                  aria-label={`How ${column.name} adds up`}
                  data={[
                    { value: 'sum', label: 'adds up' },
                    { value: 'level', label: 'is a level' },
                  ]}
                  value={metric.kind}
                  onChange={(e) => onMetric({ kind: e.currentTarget.value as NewMetric['kind'] })}
                />
              </>
            )}
          </div>
        )}
      </td>
    </tr>
  );
}
