import type { Client, Look, Report as ReportData, ReportRun } from '@chronicon/core/contract';
import type { Edit } from '@chronicon/core/contract/edits';
import { Button } from '@mantine/core';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { Link } from 'react-router';
import { call } from '../../api/call.ts';
import { useChange, useGet } from '../../api/hooks.ts';
import { Loading } from '../../parts/Loading.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { ScenePage } from '../../parts/ScenePage.tsx';
import { Unsaved } from '../../parts/Unsaved.tsx';
import { useSteady } from '../../parts/useSteady.ts';
import { plural } from '../../parts/when.ts';
import { useScopeIs } from '../../shell/scope.ts';
import { actOn } from './actOn.ts';
import { type Act, BlockActs } from './BlockActs.tsx';
import { BlockChoices } from './BlockChoices.tsx';
import type { Block } from './block.ts';
import { ComposerBar } from './ComposerBar.tsx';
import { keepCopied, readCopied } from './clipboard.ts';
import { askedBy, hasMarkedWords, isAmongBlocks, isWriting } from './composerKeys.ts';
import { type Dragged, Dragging } from './Dragging.tsx';
import {
  addBlock,
  addPage,
  belowOf,
  blocksIn,
  changesOf,
  columnsOf,
  type Doing,
  dropAt,
  findBlock,
  movePage,
  paste,
  rowsOf,
  setColumns,
  type Target,
} from './documentEdits.ts';
import { lookText, parseLook } from './looks.ts';
import { MoreActs } from './MoreActs.tsx';
import { Outline, type Press } from './Outline.tsx';
import { Overwrote } from './Overwrote.tsx';
import { PageChoices } from './PageChoices.tsx';
import { Palette } from './Palette.tsx';
import { ReportChoices } from './ReportChoices.tsx';
import { SheetBlocks } from './SheetBlocks.tsx';
import { useBlockKinds } from './useBlockKinds.ts';
import { useCommentary } from './useCommentary.ts';
import { useEdits } from './useEdits.ts';
import { useHere } from './useHere.ts';
import { useInView } from './useInView.ts';
import { useOutlineFocus } from './useOutlineFocus.ts';
import { usePreview } from './usePreview.ts';
import { useSelection } from './useSelection.ts';
import { readZoom, sheetWidth, Zoom, type ZoomAt } from './Zoom.tsx';

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
  const [palette, setPalette] = useState(false);
  const [said, setSaid] = useState('');
  const first = selection.blocks[0] ?? null;
  const others = useHere(report.id, first, store);
  const block = selection.blocks.length === 1 ? findBlock(document, first) : undefined;
  const page = document.pages.find((p) => p.id === selection.page);
  const chosen = useMemo(() => new Set(selection.blocks), [selection.blocks]);
  const { shown } = preview;
  const columns = block ? columnsOf(document, block.id) : null;

  const does = ({ edits, select }: Doing) => {
    if (edits.length > 0) store.edit(...edits);
    choose(select);
  };
  const act = (what: Act) => {
    if (what === 'copy') {
      copy();
      return;
    }
    const doing = actOn(document, selection.blocks, what);
    setSaid(doing.edits.length === 0 ? 'There is no further to go.' : '');
    does(doing);
  };
  const copy = () => {
    const rows = page ? page.rows : rowsOf(document, selection.blocks);
    if (rows.length === 0) return;
    const kept = keepCopied({ rows, client: client.id, ...(page && { page: { title: page.title } }) });
    const what = page ? `Page “${page.title}”` : plural(selection.blocks.length, 'block');
    setSaid(kept ? `${what} copied: paste it here, or in another report.` : 'This browser keeps nothing to paste.');
  };
  const pasteHere = () => {
    const copied = readCopied();
    if (!copied) {
      setSaid('Nothing was copied yet.');
      return;
    }
    setSaid('');
    does(paste(document, copied, client.id, selection.blocks.at(-1) ?? null, selection.page));
  };
  const add = (fresh: Block, target: Target = belowOf(document, selection.blocks.at(-1) ?? null, selection.page)) => {
    setPalette(false);
    does(addBlock(fresh, target));
  };
  const addOnePage = () => {
    const behind = page?.id ?? document.pages.find((p) => p.rows.some((r) => r.blocks.some((b) => b.id === first)))?.id;
    const edit = addPage(document, `Page ${document.pages.length + 1}`, [], behind ?? null);
    store.edit(edit);
    choose([], edit.page.id);
  };
  const onPage = {
    move: (by: -1 | 1) => page && store.edit(...movePage(document, page.id, by)),
    duplicate() {
      if (!page) return;
      const edit = addPage(document, page.title, page.rows, page.id);
      store.edit(edit);
      choose([], edit.page.id);
    },
    remove() {
      const left = document.pages.filter((p) => p.id !== page?.id);
      if (!page || !left.some((p) => !p.dropped)) return;
      store.edit({ op: 'removePage', page: page.id });
      choose([]);
    },
  };
  const press = (id: string, how: Press) => {
    setPalette(false);
    if (how === 'alone' || chosen.size === 0) {
      choose([id]);
      return;
    }
    if (how === 'too') {
      choose(chosen.has(id) ? selection.blocks.filter((b) => b !== id) : [...selection.blocks, id]);
      return;
    }
    const all = blocksIn(document).map((b) => b.id);
    const [from, to] = [all.indexOf(first!), all.indexOf(id)];
    const between = all.slice(Math.min(from, to), Math.max(from, to) + 1);
    // The first stays the one from which it is reckoned.
    choose([first!, ...between.filter((b) => b !== first)]);
  };
  const onChoose = useSteady(press);
  const onAct = useSteady(act);
  const onPageChosen = useSteady((id: string) => {
    setPalette(false);
    choose([], id);
  });
  const onReport = useSteady(() => {
    setPalette(false);
    choose([]);
  });
  const onAddBlock = useCallback(() => setPalette(true), []);
  const onAddPage = useSteady(addOnePage);
  const onBlock = useSteady((fresh: Block) => block && store.edit(changesOf(block, fresh)));
  const onTest = useSteady(() => test.mutate());
  const onLook = useSteady((l: Look) => set({ look: lookText(l) }));
  const onReleased = useSteady(() => void runs.refetch());
  const onZoom = useCallback((z: ZoomAt) => set({ zoom: z === 'fit' ? null : z }), [set]);
  const settle = useCallback(() => store.flush(), [store]);
  const onColumns = useCallback((id: string, n: number) => store.edit(setColumns(id, n)), [store]);
  const onDrop = (dragged: Dragged, target: Target) => {
    if ('fresh' in dragged) add(dragged.fresh, target);
    else does(dropAt(document, chosen.has(dragged.block) ? selection.blocks : [dragged.block], target));
  };
  const nameOf = (dragged: Dragged): string => {
    if ('fresh' in dragged) return kinds.of(dragged.fresh)?.label ?? '';
    const several = chosen.has(dragged.block) ? chosen.size : 1;
    const of = findBlock(document, dragged.block);
    return several > 1 ? plural(several, 'block') : ((of && kinds.of(of)?.label) ?? '');
  };

  const keys = (e: KeyboardEvent) => {
    const key = e.defaultPrevented || isWriting(e.target) ? null : askedBy(e);
    if (!key) return;
    if ('do' in key && key.do === 'palette' && !isAmongBlocks(e.target)) return;
    if (hasMarkedWords() && (('act' in key && key.act === 'copy') || ('do' in key && key.do === 'cut'))) return;
    const doing = ((): (() => void) | null => {
      if ('act' in key) {
        if (page) {
          const acts: Partial<Record<Act, () => void>> = {
            up: () => onPage.move(-1),
            down: () => onPage.move(1),
            duplicate: onPage.duplicate,
            copy,
            remove: onPage.remove,
          };
          return acts[key.act] ?? null;
        }
        return chosen.size > 0 ? () => act(key.act) : null;
      }
      if ('step' in key) {
        const all = blocksIn(document).map((b) => b.id);
        const at = all.indexOf(selection.blocks.at(-1) ?? '');
        const next = all[at < 0 ? (key.step === 1 ? 0 : all.length - 1) : at + key.step];
        if (next === undefined) return () => undefined;
        return () => press(next, key.more ? 'too' : 'alone');
      }
      switch (key.do) {
        case 'undo':
          return () => store.undo();
        case 'redo':
          return () => store.redo();
        case 'paste':
          return pasteHere;
        case 'cut':
          return chosen.size > 0
            ? () => {
                copy();
                does(actOn(document, selection.blocks, 'remove'));
              }
            : null;
        case 'all':
          return () => choose(blocksIn(document).map((b) => b.id));
        case 'palette':
          return () => setPalette(true);
        case 'report':
          return () => {
            setPalette(false);
            choose([]);
          };
      }
    })();
    if (!doing) return;
    e.preventDefault();
    doing();
  };

  const onKey = useSteady(keys);
  useEffect(() => {
    // Wherever one is: what had the focus may just have been taken away.
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, [onKey]);

  const well = useRef<HTMLElement>(null);
  useInView(well, first, shown !== null);
  useOutlineFocus(selection, document);

  const asksFor = search.get('look');
  const more = useMemo(
    () => <MoreActs report={report} client={client} settle={settle} look={asksFor} />,
    [report, client, settle, asksFor],
  );
  const where = first
    ? 'It comes below what is chosen.'
    : `It comes at the end of ${page ? 'this page' : 'the first page'}.`;
  return (
    <Dragging document={document} nameOf={nameOf} onDrop={onDrop}>
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
            <div className="lack stack">
              <Notice error={preview.error ?? editing.error ?? commentary.error ?? test.error} />
              {editing.state === 'broken' && (
                <Notice>
                  The server cannot be reached. What you change stays here and is saved as soon as it answers.
                </Notice>
              )}
              {editing.lost > 0 && (
                <Notice>Somebody removed what you were changing. The page shows what there is now.</Notice>
              )}
              <Overwrote
                document={document}
                kinds={kinds}
                store={store}
                overwritten={editing.overwritten}
                over={commentary.over}
                onLetGo={commentary.letGo}
              />
              {shown && shown.lacks.length > 0 && (
                <Notice>
                  {shown.lacks.map((l) => (
                    <div key={l}>{l}</div>
                  ))}
                </Notice>
              )}
              {test.data && (
                <div className="note small">
                  The test is on its way to you. <Link to={`/editions/${test.data.editionId}`}>See it</Link>
                </div>
              )}
            </div>
            {shown ? (
              <div className={zoom === 'spread' ? 'sheets spread' : 'sheets'}>
                {shown.pages.map(({ page: sheet }, i) => (
                  // By its place: of a sheet that changed, only what differs is painted anew.
                  <div
                    key={i}
                    className="sheet"
                    data-drop="sheet"
                    style={{ width: sheetWidth(zoom, sheet), aspectRatio: `${sheet.width} / ${sheet.height}` }}
                  >
                    <ScenePage page={sheet} lang={shown.lang} pictures={`/api/clients/${client.id}/pictures`} />
                    <SheetBlocks
                      page={sheet}
                      sheet={i}
                      chosen={chosen}
                      columns={columns}
                      onChoose={onChoose}
                      onColumns={onColumns}
                    />
                  </div>
                ))}
              </div>
            ) : (
              <Loading lines={12} />
            )}
          </section>
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
                  Paste what was copied
                </Button>
              </div>
            )}
          </aside>
        </main>
      </div>
    </Dragging>
  );
}
