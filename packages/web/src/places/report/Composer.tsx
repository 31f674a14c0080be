import type { Client, Look, Report as ReportData, ReportRun } from '@chronicon/core/contract';
import { useCallback, useMemo, useRef } from 'react';
import { call } from '../../api/call.ts';
import { useChange, useGet } from '../../api/hooks.ts';
import { PageTitle } from '../../parts/PageTitle.tsx';
import { Unsaved } from '../../parts/Unsaved.tsx';
import { useSteady } from '../../parts/useSteady.ts';
import { plural } from '../../parts/when.ts';
import { useScopeIs } from '../../shell/scope.ts';
import { Choosing } from './Choosing.tsx';
import { ComposerBar } from './ComposerBar.tsx';
import { ComposerNotes } from './ComposerNotes.tsx';
import { type Dragged, Dragging } from './Dragging.tsx';
import { columnsOf, findBlock, setColumns } from './documentEdits.ts';
import { lookText, parseLook } from './looks.ts';
import { MoreActs } from './MoreActs.tsx';
import { Outline } from './Outline.tsx';
import { Sheets } from './Sheets.tsx';
import { useBlockKinds } from './useBlockKinds.ts';
import { useCommentary } from './useCommentary.ts';
import { useComposing } from './useComposing.ts';
import { useEdits } from './useEdits.ts';
import { useHere } from './useHere.ts';
import { useInView } from './useInView.ts';
import { useOutlineFocus } from './useOutlineFocus.ts';
import { usePreview } from './usePreview.ts';
import { useSelection } from './useSelection.ts';
import { readZoom, Zoom, type ZoomAt } from './Zoom.tsx';

const NO_RUNS: readonly ReportRun[] = [];

/** A report as it is sent, edited on its own sheets. */
export function Composer({ report, client }: { report: ReportData; client: Client }) {
  useScopeIs(client.id);
  const { selection, choose, search, set } = useSelection();
  const editing = useEdits(report);
  const { draft, store } = editing;
  const { document } = draft;
  const runs = useGet('GET /api/reports/:report/runs', { params: { report: report.id } });
  const asked = search.get('look');
  // Unless another is asked for, what is looked at is what goes out next.
  const look = useMemo((): Look | null => {
    const chosen = parseLook(asked);
    if (chosen) return chosen;
    if (!runs.data) return null;
    const [next] = runs.data;
    return next ? { kind: 'run', schedule: next.schedule, nominal: next.nominal } : { kind: 'own' };
  }, [asked, runs.data]);
  const commentary = useCommentary(report.id);
  const kinds = useBlockKinds(client.id);
  const edited = useCallback(
    (hear: (now: typeof draft) => void) => store.subscribe(() => hear(store.snapshot().draft)),
    [store],
  );
  const preview = usePreview(report.id, draft.title, document, look, commentary.saves, edited);
  const waits = editing.state !== 'saved' || commentary.pending;
  const test = useChange(() =>
    call('POST /api/reports/:report/test', { params: { report: report.id }, body: { look: look ?? { kind: 'own' } } }),
  );
  const zoom = readZoom(search.get('zoom'));
  const composing = useComposing({ selection, choose }, editing, client.id);
  const { palette, setPalette, said, first, chosen, press, addOnePage, backToReport, onDrop } = composing;
  const others = useHere(report.id, first, store);
  const block = selection.blocks.length === 1 ? findBlock(document, first) : undefined;
  const { shown } = preview;
  const columns = block ? columnsOf(document, block.id) : null;

  const onChoose = useSteady(press);
  const onPageChosen = useSteady((id: string) => {
    setPalette(false);
    choose([], id);
  });
  const onReport = useSteady(backToReport);
  const onAddBlock = useCallback(() => setPalette(true), [setPalette]);
  const onAddPage = useSteady(addOnePage);
  const onTest = useSteady(() => test.mutate());
  const onLook = useSteady((l: Look) => set({ look: lookText(l) }));
  const onReleased = useSteady(() => void runs.refetch());
  const onZoom = useCallback((z: ZoomAt) => set({ zoom: z === 'fit' ? null : z }), [set]);
  const settle = useCallback(() => store.flush(), [store]);
  const onColumns = useCallback((id: string, n: number) => store.edit(setColumns(id, n)), [store]);
  const nameOf = (dragged: Dragged): string => {
    if ('fresh' in dragged) return kinds.of(dragged.fresh)?.label ?? '';
    const several = chosen.has(dragged.block) ? chosen.size : 1;
    const of = findBlock(document, dragged.block);
    return several > 1 ? plural(several, 'block') : ((of && kinds.of(of)?.label) ?? '');
  };

  const well = useRef<HTMLElement>(null);
  useInView(well, first, shown !== null);
  useOutlineFocus(selection, document);

  const asksFor = search.get('look');
  const more = useMemo(
    () => <MoreActs report={report} client={client} settle={settle} look={asksFor} />,
    [report, client, settle, asksFor],
  );
  return (
    <Dragging document={document} nameOf={nameOf} onDrop={onDrop}>
      <PageTitle of={[draft.title.trim() || 'Report', client.name]} />
      <Unsaved when={waits} what="your last changes" pathOnly settle={settle} />
      <div className="composer-page">
        <ComposerBar
          report={report}
          client={client}
          editing={editing}
          store={store}
          look={look}
          runs={runs.data ?? NO_RUNS}
          period={shown?.period ?? null}
          compared={shown?.compared ?? null}
          waits={waits}
          failed={commentary.error !== null}
          testing={test.isPending}
          onTest={onTest}
          onLook={onLook}
          onReleased={onReleased}
        >
          {more}
        </ComposerBar>
        <main className={palette ? 'composer with-palette' : 'composer'}>
          <Outline
            client={client.id}
            kinds={kinds}
            document={document}
            selection={selection}
            others={others}
            onChoose={onChoose}
            onPage={onPageChosen}
            onReport={onReport}
            onAddBlock={onAddBlock}
            onAddPage={onAddPage}
          />
          {/* biome-ignore lint/a11y/noNoninteractiveTabindex: it scrolls, so the keyboard has to reach it */}
          <section ref={well} className="desk-well" aria-label="Pages" tabIndex={0}>
            <div className="well-bar">
              <span className="muted small" role="status">
                {said}
              </span>
              <Zoom value={zoom} onChange={onZoom} />
            </div>
            <ComposerNotes editing={editing} commentary={commentary} kinds={kinds} preview={preview} test={test} />
            <Sheets
              shown={shown}
              client={client.id}
              zoom={zoom}
              chosen={chosen}
              columns={columns}
              onChoose={onChoose}
              onColumns={onColumns}
            />
          </section>
          <Choosing
            report={report}
            client={client}
            editing={editing}
            composing={composing}
            commentary={commentary}
            kinds={kinds}
            block={block}
            shown={shown}
          />
        </main>
      </div>
    </Dragging>
  );
}
