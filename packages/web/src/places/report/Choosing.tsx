import type { Client, Report as ReportData } from '@chronicon/core/contract';
import type { Edit } from '@chronicon/core/contract/edits';
import { Button } from '@mantine/core';
import { useSteady } from '../../parts/useSteady.ts';
import { plural } from '../../parts/when.ts';
import { BlockActs } from './BlockActs.tsx';
import { BlockChoices } from './BlockChoices.tsx';
import type { Block } from './block.ts';
import { changesOf } from './documentEdits.ts';
import { PageChoices } from './PageChoices.tsx';
import { Palette } from './Palette.tsx';
import { ReportChoices } from './ReportChoices.tsx';
import type { useBlockKinds } from './useBlockKinds.ts';
import type { useCommentary } from './useCommentary.ts';
import type { useComposing } from './useComposing.ts';
import type { useEdits } from './useEdits.ts';
import type { Shown } from './usePreview.ts';

/** What can be chosen of what is chosen: a block, several, a page, or the report; or what can be added. */
export function Choosing({
  report,
  client,
  editing: { draft, store },
  composing,
  commentary,
  kinds,
  block,
  shown,
}: {
  report: ReportData;
  client: Client;
  editing: ReturnType<typeof useEdits>;
  composing: ReturnType<typeof useComposing>;
  commentary: ReturnType<typeof useCommentary>;
  kinds: ReturnType<typeof useBlockKinds>;
  /** The block that is chosen alone. */
  block: Block | undefined;
  shown: Shown | null;
}) {
  const { document } = draft;
  const { palette, setPalette, first, page, chosen, act, add, copy, pasteHere, onPage } = composing;
  const onAct = useSteady(act);
  const onBlock = useSteady((fresh: Block) => block && store.edit(changesOf(block, fresh)));
  const where = first ? 'Added below the selection.' : `Added at the end of ${page ? 'this page' : 'the first page'}.`;
  return (
    <aside className="choices" aria-label="Choices">
      {palette ? (
        <Palette
          report={report.id}
          client={client}
          kinds={kinds.all}
          document={document}
          where={where}
          onAdd={(fresh) => add(fresh)}
          onClose={() => setPalette(false)}
        />
      ) : block ? (
        <BlockChoices
          client={client}
          kinds={kinds}
          block={block}
          period={shown?.period ?? null}
          written={shown?.commentary.find((w) => w.block === block.id)}
          commentary={commentary}
          onChange={onBlock}
          onAct={onAct}
        />
      ) : chosen.size > 1 ? (
        <div className="stack">
          <h2>{plural(chosen.size, 'block')}</h2>
          <BlockActs onAct={onAct} />
        </div>
      ) : page ? (
        <PageChoices
          document={document}
          page={page}
          onEdit={(...edits: Edit[]) => store.edit(...edits)}
          onMove={onPage.move}
          onDuplicate={onPage.duplicate}
          onCopy={copy}
          onRemove={onPage.remove}
        />
      ) : (
        <ReportChoices document={document} client={client} onEdit={(e) => store.edit(e)} />
      )}
      {!palette && (
        <div className="paste-here">
          <Button size="compact-sm" variant="subtle" title="Ctrl V" onClick={pasteHere}>
            Paste
          </Button>
        </div>
      )}
    </aside>
  );
}
