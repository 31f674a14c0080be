import type { BlockOffer, Client, Look } from '@chronicon/core/contract';
import type { Draft } from '@chronicon/core/contract/edits';
import type { ScenePage as Page } from '@chronicon/core/page';
import { useDraggable } from '@dnd-kit/core';
import { CloseButton, TextInput } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { type ApiError, call, type Reply } from '../../api/call.ts';
import { Notice } from '../../parts/Notice.tsx';
import { ScenePage } from '../../parts/ScenePage.tsx';
import type { Block } from './block.ts';

type Document = Draft['document'];

/** Columns of a miniature. */
const NARROW = 5;
/** A period that is over: miniatures are of figures that are there. */
const LOOK: Look = { kind: 'own' };

/** A report of one block of each kind, a page each. */
function documentOf(document: Document, kinds: readonly BlockOffer[]): Document {
  const { filter, assumptions, period, comparison, paper } = document;
  return {
    version: 2,
    period,
    comparison,
    ...(filter && { filter }),
    ...(assumptions && { assumptions }),
    ...(paper && { paper }),
    noContents: true,
    pages: kinds.map(({ kind, fresh }) => ({
      id: `pg_${kind}`,
      title: kind,
      // Narrow, so that it can be read when it is small.
      rows: [{ id: `rw_${kind}`, blocks: [{ ...(fresh as Block), id: `mini_${kind}`, columns: NARROW }] }],
    })),
  };
}

/** The page cut to its block. */
const cutTo = (page: Page, block: string): Page | null => {
  const found = page.blocks.find((b) => b.id === block);
  return found && found.h > 4 ? { ...page, blocks: [] } : null;
};

function Offer({
  offer,
  page,
  lang,
  pictures,
  waits,
  onAdd,
}: {
  offer: BlockOffer;
  page: Page | undefined;
  lang: string;
  pictures: string;
  waits: boolean;
  onAdd: () => void;
}) {
  const { setNodeRef, listeners } = useDraggable({ id: `palette ${offer.kind}`, data: { fresh: offer.fresh } });
  const block = page?.blocks.find((b) => b.id === `mini_${offer.kind}`);
  const shown = page && block && cutTo(page, block.id);
  return (
    <div ref={setNodeRef} className="offer" {...listeners}>
      <span className="mini" aria-hidden="true">
        {shown && block ? (
          <ScenePage
            page={shown}
            lang={lang}
            pictures={pictures}
            view={{ x: block.x - 4, y: block.y - 4, w: block.w + 8, h: Math.min(block.h + 8, block.w * 0.62) }}
          />
        ) : (
          <span className="muted small">{waits ? '' : 'Nothing to show yet'}</span>
        )}
      </span>
      {/* Its press reaches over the picture, which is no part of its name. */}
      <button type="button" onClick={onAdd}>
        {offer.label}
      </button>
    </div>
  );
}

interface Props {
  report: string;
  client: Client;
  kinds: readonly BlockOffer[];
  document: Document;
  /** Where what is added comes to stand, in words. */
  where: string;
  onAdd: (fresh: Block) => void;
  onClose: () => void;
}

/** Every kind of block with this client's figures, to be added by a press or dragged to its place. */
export function Palette({ report, client, kinds, document, where, onAdd, onClose }: Props) {
  const [text, setText] = useState('');
  const design = documentOf(document, kinds);
  const drawn = useQuery<Reply<'POST /api/reports/:report/preview'>, ApiError>({
    queryKey: ['palette', report, JSON.stringify(design)],
    queryFn: ({ signal }) =>
      call('POST /api/reports/:report/preview', {
        params: { report },
        body: { document: design, look: LOOK, have: [] },
        signal,
      }),
    enabled: kinds.length > 0,
    staleTime: 60_000,
  });
  const found = kinds.filter((k) => k.label.toLowerCase().includes(text.trim().toLowerCase()));
  const pageOf = (kind: string) =>
    drawn.data?.pages.find(({ page }) => page?.blocks.some((b) => b.id === `mini_${kind}`))?.page ?? undefined;
  return (
    <div className="stack palette">
      <div className="row apart">
        <h2>Add a block</h2>
        <CloseButton aria-label="Close the palette" onClick={onClose} />
      </div>
      <span className="muted small">{where} Click or drag to add.</span>
      <TextInput
        aria-label="Find a block"
        placeholder="Find a block"
        data-autofocus
        autoFocus
        value={text}
        onChange={(e) => setText(e.currentTarget.value)}
        onKeyDown={(e) => {
          if (e.key === 'Enter' && found[0]) onAdd(found[0].fresh as Block);
          if (e.key === 'Escape') onClose();
        }}
      />
      <Notice error={drawn.error} />
      <div className="offers">
        {found.map((offer) => (
          <Offer
            key={offer.kind}
            offer={offer}
            page={pageOf(offer.kind)}
            lang={drawn.data?.lang ?? 'en'}
            pictures={`/api/clients/${client.id}/pictures`}
            waits={drawn.isPending}
            onAdd={() => onAdd(offer.fresh as Block)}
          />
        ))}
        {found.length === 0 && <span className="muted small">No matching blocks.</span>}
      </div>
    </div>
  );
}
