import type { Draft } from '@chronicon/core/contract/edits';
import { useDraggable } from '@dnd-kit/core';
import { Button } from '@mantine/core';
import { memo, useMemo } from 'react';
import type { Reply } from '../../api/call.ts';
import { useGet } from '../../api/hooks.ts';
import type { BlockKinds } from './useBlockKinds.ts';
import type { Selection } from './useSelection.ts';

type Other = Reply<'PUT /api/reports/:report/here'>['others'][number];
/** How a press chooses: this alone, this too, or all up to this. */
export type Press = 'alone' | 'too' | 'upTo';

export const pressOf = (e: { shiftKey: boolean; ctrlKey: boolean; metaKey: boolean }): Press =>
  e.shiftKey ? 'upTo' : e.ctrlKey || e.metaKey ? 'too' : 'alone';

const initialsOf = (name: string): string =>
  name
    .split(' ')
    .map((part) => part.charAt(0))
    .join('')
    .slice(0, 2)
    .toUpperCase();

/** One block: drawn anew when something of it changes, whatever is edited elsewhere. */
const Line = memo(function Line({
  id,
  kind,
  about,
  never,
  chosen,
  others,
  onChoose,
}: {
  id: string;
  kind: string;
  about: string;
  /** Left out of what goes out. */
  never: boolean;
  chosen: boolean;
  others: readonly Other[];
  onChoose: (id: string, press: Press) => void;
}) {
  const { setNodeRef, listeners } = useDraggable({ id: `outline ${id}`, data: { block: id } });
  return (
    <button
      ref={setNodeRef}
      type="button"
      className={`block${never ? ' left-out' : ''}`}
      data-block={id}
      data-drop={`block ${id}`}
      aria-pressed={chosen}
      onClick={(e) => onChoose(id, pressOf(e))}
      {...listeners}
    >
      <span className="name">
        {/* Named from the first, before its kind's own name has come. */}
        {kind || 'Block'}
        {about && <span className="muted">: {about}</span>}
        {never && <span className="muted"> (hidden)</span>}
      </span>
      {others.map((o) => (
        <span key={o.window} className="who" title={`${o.name} is here`}>
          {initialsOf(o.name)}
          <span className="reading-only"> {o.name} is here</span>
        </span>
      ))}
    </button>
  );
});

/** Nobody else: the same for all blocks on which none is. */
const NOBODY: readonly Other[] = [];

interface Props {
  client: string;
  kinds: BlockKinds;
  document: Draft['document'];
  selection: Selection;
  others: readonly Other[];
  onChoose: (id: string, press: Press) => void;
  onPage: (page: string) => void;
  onReport: () => void;
  onAddBlock: () => void;
  onAddPage: () => void;
}

/** The pages of a report and their blocks, in reading order; who else is where. */
export const Outline = memo(function Outline(props: Props) {
  const { client, kinds, document, selection, others } = props;
  const known = useGet('GET /api/clients/:client/metrics', { params: { client } });
  const names = useMemo(
    () => new Map([...(known.data?.metrics ?? []), ...(known.data?.dimensions ?? [])].map((x) => [x.key, x.label])),
    [known.data],
  );
  const chosen = new Set(selection.blocks);
  const elsewhere = others.filter((o) => o.block === null);
  return (
    <nav className="outline" aria-label="Outline">
      <button
        type="button"
        className="block whole"
        aria-pressed={chosen.size === 0 && selection.page === null}
        onClick={props.onReport}
      >
        <span className="name">The report</span>
        {elsewhere.map((o) => (
          <span key={o.window} className="who" title={`${o.name} is here`}>
            {initialsOf(o.name)}
            <span className="reading-only"> {o.name} is here</span>
          </span>
        ))}
      </button>
      <ol>
        {document.pages.map((page, i) => (
          <li key={page.id}>
            <h2>
              <button
                type="button"
                className={`page${page.dropped ? ' left-out' : ''}`}
                data-page={page.id}
                data-drop={`page ${page.id}`}
                aria-pressed={selection.page === page.id}
                onClick={() => props.onPage(page.id)}
              >
                <span className="muted">{i + 1}</span> {page.title || 'Page without a title'}
                {page.dropped && <span className="muted"> (hidden)</span>}
              </button>
            </h2>
            {page.rows.map((row) => (
              <div key={row.id} className={row.blocks.length > 1 ? 'abreast' : undefined}>
                {row.blocks.map((b) => (
                  <Line
                    key={b.id}
                    id={b.id}
                    {...kinds.nameOf(b, names)}
                    never={b.when === 'never'}
                    chosen={chosen.has(b.id)}
                    others={others.some((o) => o.block === b.id) ? others.filter((o) => o.block === b.id) : NOBODY}
                    onChoose={props.onChoose}
                  />
                ))}
              </div>
            ))}
            {page.rows.length === 0 && <span className="muted small nothing">Nothing on it yet</span>}
          </li>
        ))}
      </ol>
      <div className="stack tight">
        <Button variant="outline" fullWidth onClick={props.onAddBlock}>
          Add a block
        </Button>
        <Button variant="subtle" fullWidth onClick={props.onAddPage}>
          Add a page
        </Button>
      </div>
    </nav>
  );
});
