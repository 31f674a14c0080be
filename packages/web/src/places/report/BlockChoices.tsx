import type { Client, Written } from '@chronicon/core/contract';
import { memo } from 'react';
import { useGet } from '../../api/hooks.ts';
import { type Act, BlockActs } from './BlockActs.tsx';
import { BlockField } from './BlockField.tsx';
import type { Block } from './block.ts';
import { type Commentary, CommentaryChoices } from './CommentaryChoices.tsx';
import { OwnChoices } from './OwnChoices.tsx';
import { PictureField } from './PictureField.tsx';
import type { BlockKinds } from './useBlockKinds.ts';
import type { useCommentary } from './useCommentary.ts';
import { WriteOver } from './WriteOver.tsx';

interface Props {
  client: Client;
  kinds: BlockKinds;
  block: Block;
  /** The period that is looked at, and what was written for it. */
  period: { from: string; to: string; label: string } | null;
  written: Written | undefined;
  commentary: Pick<ReturnType<typeof useCommentary>, 'textOf' | 'write'>;
  onChange: (block: Block) => void;
  onAct: (act: Act) => void;
}

/** The choices of the selected block, as its kind asks for them. */
export const BlockChoices = memo(function BlockChoices(props: Props) {
  const { client, kinds, block, period, written, commentary, onChange, onAct } = props;
  const known = useGet('GET /api/clients/:client/metrics', { params: { client: client.id } });
  const kind = kinds.of(block);
  const chosenFor = (key: string) => block[key as keyof Block] as unknown;
  const chosen = new Set(
    (kind?.fields ?? []).flatMap((f) =>
      f.kind === 'metric' || f.kind === 'metrics' ? ((chosenFor(f.key) ?? []) as string | string[]) : [],
    ),
  );
  const chosenDimensions = new Set((known.data?.metrics ?? []).flatMap((m) => (chosen.has(m.key) ? m.dimensions : [])));
  const text = period ? commentary.textOf(block.id, period, written?.draft ?? '') : '';
  const write = (words: string) =>
    period &&
    commentary.write({ block: block.id, from: period.from, to: period.to, text: words }, written?.draft ?? '');
  return (
    <div className="stack">
      <h2>{kind?.label}</h2>
      {kind && (
        <OwnChoices
          client={client.id}
          fiscalStart={client.fiscalStart}
          block={block}
          reads={kind.reads}
          compares={kind.compares}
          dimensions={(known.data?.dimensions ?? []).filter((d) => chosenDimensions.has(d.key))}
          onChange={(own) => onChange({ ...block, ...own } as Block)}
        />
      )}
      {kind?.fields.map((field) =>
        field.kind === 'commentary' ? (
          <CommentaryChoices
            key={field.key}
            block={block as Commentary}
            onChange={onChange}
            period={period}
            written={written}
            text={text}
            onWrite={write}
          />
        ) : field.kind === 'picture' ? (
          <PictureField
            key={field.key}
            client={client.id}
            label={field.label}
            value={(block as Extract<Block, { kind: 'picture' }>).picture}
            onChange={(picture) => onChange({ ...block, picture } as Block)}
          />
        ) : (
          <BlockField
            key={field.key}
            field={field}
            value={chosenFor(field.key)}
            metrics={known.data?.metrics ?? []}
            dimensions={known.data?.dimensions ?? []}
            chosen={chosen}
            onChange={(value) => onChange({ ...block, [field.key]: value } as Block)}
          />
        ),
      )}
      {kind?.mayBeWritten && <WriteOver as={kind.mayBeWritten} period={period} text={text} onWrite={write} />}
      <BlockActs onAct={onAct} />
    </div>
  );
});
