import type { BlockOffer } from '@chronicon/core/contract';
import { useMemo } from 'react';
import { useGet } from '../../api/hooks.ts';
import type { Block } from './block.ts';

export interface BlockKinds {
  all: readonly BlockOffer[];
  of(block: Block): BlockOffer | undefined;
  /** What a block is called in the outline: its kind, and what it is about. */
  nameOf(block: Block, labels: ReadonlyMap<string, string>): { kind: string; about: string };
}

/** The kinds of blocks that a client's reports can be made of. */
export function useBlockKinds(client: string): BlockKinds {
  const { data } = useGet('GET /api/clients/:client/blocks', { params: { client } });
  return useMemo(() => {
    const all = data ?? [];
    const of = (block: Block) => all.find((k) => k.kind === block.kind);
    return {
      all,
      of,
      nameOf(block, labels) {
        const kind = of(block);
        const about = kind?.about ? String(block[kind.about as keyof Block]) : '';
        return { kind: kind?.label ?? '', about: labels.get(about) ?? (kind?.about === 'text' ? about : '') };
      },
    };
  }, [data]);
}
