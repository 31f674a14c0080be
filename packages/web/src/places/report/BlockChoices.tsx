import type { Report, Written } from '@chronicon/core/contract';
import { Button, MultiSelect, NativeSelect, TextInput } from '@mantine/core';
import { useGet } from '../../api/hooks.ts';
import { NumberField } from '../../parts/NumberField.tsx';
import { CommentaryChoices } from './CommentaryChoices.tsx';
import type { useCommentary } from './useCommentary.ts';

export type Block = Report['document']['pages'][number]['rows'][number]['blocks'][number];

export const BLOCK_NAMES: Record<Block['kind'], string> = {
  heading: 'Heading',
  kpiRow: 'KPI row',
  trend: 'Trend',
  ranking: 'Ranking',
  drivers: 'Drivers',
  commentary: 'Commentary',
};

interface Props {
  client: string;
  block: Block;
  /** The period that is looked at, and what was written for it. */
  period: { from: string; to: string; label: string } | null;
  written: Written | undefined;
  commentary: Pick<ReturnType<typeof useCommentary>, 'textOf' | 'write'>;
  onChange: (block: Block) => void;
  onRemove: () => void;
  onMove: (by: -1 | 1) => void;
}

/** The choices of the selected block. */
export function BlockChoices({ client, block, period, written, commentary, onChange, onRemove, onMove }: Props) {
  const known = useGet('GET /api/clients/:client/metrics', { params: { client } });
  const chosen = new Set('metrics' in block ? block.metrics : 'metric' in block ? [block.metric] : []);
  // What no feed of the client brings is not offered; what is chosen already stays.
  const metrics = (known.data?.metrics ?? [])
    .filter((m) => m.available || chosen.has(m.key))
    .map((m) => ({ value: m.key, label: m.label, divides: m.divides }));
  // What the block's own figures are not known by is not offered.
  const usable = new Set((known.data?.metrics ?? []).flatMap((m) => (chosen.has(m.key) ? m.dimensions : [])));
  const dimensions = (known.data?.dimensions ?? [])
    .filter((d) => usable.has(d.key) || ('dimension' in block && block.dimension === d.key))
    .map((d) => ({ value: d.key, label: d.label }));
  return (
    <div className="stack">
      <h2>{BLOCK_NAMES[block.kind]}</h2>
      {block.kind === 'heading' && (
        <TextInput
          label="Words"
          value={block.text}
          onChange={(e) => onChange({ ...block, text: e.currentTarget.value })}
          error={block.text.trim() === '' ? 'A heading needs words.' : undefined}
        />
      )}
      {block.kind === 'commentary' && (
        <CommentaryChoices
          block={block}
          onChange={onChange}
          period={period}
          written={written}
          text={period ? commentary.textOf(block.id, period, written?.draft ?? '') : ''}
          onWrite={(text) => period && commentary.write({ block: block.id, from: period.from, to: period.to, text })}
        />
      )}
      {(block.kind === 'trend' || block.kind === 'ranking' || block.kind === 'drivers') && (
        <TextInput
          label="Title"
          description="Empty: named after what it shows"
          value={block.title}
          onChange={(e) => onChange({ ...block, title: e.currentTarget.value })}
        />
      )}
      {(block.kind === 'trend' || block.kind === 'drivers') && (
        <NativeSelect
          label="Metric"
          data={block.kind === 'drivers' ? metrics.filter((m) => m.divides) : metrics}
          value={block.metric}
          onChange={(e) => onChange({ ...block, metric: e.currentTarget.value })}
        />
      )}
      {(block.kind === 'ranking' || block.kind === 'drivers') && (
        <>
          <NativeSelect
            label="Broken down by"
            data={dimensions}
            value={block.dimension}
            onChange={(e) => onChange({ ...block, dimension: e.currentTarget.value as typeof block.dimension })}
          />
          <NumberField
            label="Rows, then the rest as one"
            min={1}
            max={50}
            value={block.n}
            onChange={(n) => onChange({ ...block, n })}
          />
        </>
      )}
      {(block.kind === 'kpiRow' || block.kind === 'ranking') && (
        <MultiSelect
          label="Metrics"
          {...(block.kind === 'ranking' && { description: 'The first one ranks' })}
          data={metrics}
          maxValues={block.kind === 'kpiRow' ? 5 : 4}
          value={block.metrics}
          onChange={(chosen) => chosen.length > 0 && onChange({ ...block, metrics: chosen })}
        />
      )}
      <div className="row">
        <Button variant="default" size="compact-sm" onClick={() => onMove(-1)}>
          Move up
        </Button>
        <Button variant="default" size="compact-sm" onClick={() => onMove(1)}>
          Move down
        </Button>
        <Button variant="subtle" color="red" size="compact-sm" onClick={onRemove}>
          Remove
        </Button>
      </div>
    </div>
  );
}
