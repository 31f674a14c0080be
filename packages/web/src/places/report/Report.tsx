import type { Client, Look, Report as ReportData } from '@chronicon/core/contract';
import type { Draft } from '@chronicon/core/contract/edits';
import { Button, Menu, TextInput } from '@mantine/core';
import { useHotkeys } from '@mantine/hooks';
import { useCallback, useEffect, useMemo, useRef } from 'react';
import { Link, useParams, useSearchParams } from 'react-router';
import { call } from '../../api/call.ts';
import { useChange, useGet } from '../../api/hooks.ts';
import { Loading } from '../../parts/Loading.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { ComparisonPicker, PeriodPicker } from '../../parts/PeriodPicker.tsx';
import { comparisonWords, periodWords } from '../../parts/periods.ts';
import { ScenePage } from '../../parts/ScenePage.tsx';
import { SentencePart } from '../../parts/SentencePart.tsx';
import { Unsaved } from '../../parts/Unsaved.tsx';
import { useScopeIs } from '../../shell/scope.ts';
import { useSession } from '../../shell/sessionContext.ts';
import { BlockChoices } from './BlockChoices.tsx';
import type { Block } from './block.ts';
import { addBelow, changesOf, findBlock, moveBy } from './documentEdits.ts';
import type { SaveState } from './editStore.ts';
import { LookPicker } from './LookPicker.tsx';
import { lookQuery, lookText, parseLook } from './looks.ts';
import { MakeNow } from './MakeNow.tsx';
import { Release } from './Release.tsx';
import { ReportChoices } from './ReportChoices.tsx';
import { type BlockKinds, useBlockKinds } from './useBlockKinds.ts';
import { useCommentary } from './useCommentary.ts';
import { useEdits } from './useEdits.ts';
import { usePreview } from './usePreview.ts';

function Outline({
  client,
  kinds,
  draft,
  selected,
  onSelect,
  onAdd,
}: {
  client: string;
  kinds: BlockKinds;
  draft: Draft;
  selected: string | null;
  onSelect: (id: string | null) => void;
  onAdd: (fresh: Block) => void;
}) {
  const known = useGet('GET /api/clients/:client/metrics', { params: { client } });
  const names = new Map(
    [...(known.data?.metrics ?? []), ...(known.data?.dimensions ?? [])].map((x) => [x.key, x.label]),
  );
  return (
    <nav className="outline" aria-label="Outline">
      <button type="button" className="block" aria-pressed={selected === null} onClick={() => onSelect(null)}>
        The report
      </button>
      <ol>
        {draft.document.pages.map((page, i) => (
          <li key={page.id}>
            <h2>
              <span className="muted">{i + 1}</span> {page.title}
            </h2>
            {page.rows.flatMap((r) =>
              r.blocks.map((b) => {
                const { kind, about } = kinds.nameOf(b, names);
                return (
                  <button
                    key={b.id}
                    type="button"
                    className="block"
                    aria-pressed={b.id === selected}
                    onClick={() => onSelect(b.id)}
                  >
                    {/* Named from the first, before its kind's own name has come. */}
                    {kind || 'Block'}
                    {about && <span className="muted">: {about}</span>}
                  </button>
                );
              }),
            )}
          </li>
        ))}
      </ol>
      <Menu width={180}>
        <Menu.Target>
          <Button variant="outline" fullWidth>
            Add a block
          </Button>
        </Menu.Target>
        <Menu.Dropdown>
          {kinds.all.map(({ kind, label, fresh }) => (
            <Menu.Item key={kind} onClick={() => onAdd(fresh)}>
              {label}
            </Menu.Item>
          ))}
        </Menu.Dropdown>
      </Menu>
    </nav>
  );
}

/** How it stands with what was edited. */
function savedWords(state: SaveState, waits: boolean, failed: boolean): string {
  if (state === 'broken') return 'Not saved yet: trying again';
  if (state === 'refused' || failed) return 'Not saved';
  return waits ? 'Saving …' : 'Draft saved';
}

function Composer({ report, client }: { report: ReportData; client: Client }) {
  useScopeIs(client.id);
  const [search, setSearch] = useSearchParams();
  const editing = useEdits(report);
  const { draft, store } = editing;
  const { document } = draft;
  const { member } = useSession();
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
  const preview = usePreview(report.id, draft.title, document, look, commentary.saves);
  const waits = editing.state !== 'saved' || commentary.pending;
  const test = useChange(() =>
    call('POST /api/reports/:report/test', { params: { report: report.id }, body: { look: look ?? { kind: 'own' } } }),
  );
  const selected = search.get('block');
  const block = findBlock(document, selected);
  const setIn = (key: string, value: string | null) =>
    setSearch(
      (old) => {
        const next = new URLSearchParams(old);
        if (value === null) next.delete(key);
        else next.set(key, value);
        return next;
      },
      { replace: true },
    );
  const select = (id: string | null) => setIn('block', id);
  const selectNow = useRef(select);
  selectNow.current = select;
  // The same for as long as the place stands, so that sheets that did not change are not looked at again.
  const onSheet = useCallback((id: string) => selectNow.current(id), []);
  useHotkeys([
    ['mod+Z', () => store.undo()],
    ['mod+shift+Z', () => store.redo()],
  ]);
  const { shown } = preview;
  const isShown = shown !== null && shown !== undefined;
  const well = useRef<HTMLElement>(null);
  useEffect(() => {
    // What is chosen in the outline, or by an address, is brought into sight on its sheet.
    const chosen = selected === null || !isShown ? null : well.current?.querySelector('.chosen-block');
    if (!chosen || !well.current) return;
    const [box, room] = [chosen.getBoundingClientRect(), well.current.getBoundingClientRect()];
    if (box.top < room.top || box.bottom > room.bottom) well.current.scrollTop += box.top - room.top - 40;
  }, [selected, isShown]);
  return (
    <>
      <Unsaved when={waits} what="your last changes" pathOnly settle={() => store.flush()} />
      <div className="composer-bar">
        <Link className="whose" to={`/clients/${client.id}/reports`}>
          {client.name}
        </Link>
        <TextInput
          aria-label="Title of the report"
          value={draft.title}
          onChange={(e) => store.edit({ op: 'title', title: e.currentTarget.value })}
          error={draft.title.trim() === '' ? 'Give it a title.' : undefined}
          w={260}
        />
        <span className="covers">
          {look && (
            <>
              Seen <LookPicker look={look} runs={runs.data ?? []} onChange={(l) => setIn('look', lookText(l))} />
              {' · '}
            </>
          )}
          by itself it covers{' '}
          <SentencePart about="Period" text={periodWords(document.period)}>
            {() => (
              <PeriodPicker
                fiscalStart={client.fiscalStart}
                value={document.period}
                onChange={(period) => store.edit({ op: 'period', period })}
              />
            )}
          </SentencePart>{' '}
          against{' '}
          <SentencePart about="Comparison" text={comparisonWords(document.comparison)}>
            {() => (
              <ComparisonPicker
                value={document.comparison}
                onChange={(comparison) => store.edit({ op: 'comparison', comparison })}
              />
            )}
          </SentencePart>
          {shown && (
            <span className="muted small dates">
              {shown.period.label}
              {shown.compared && ` against ${shown.compared.label}`}
            </span>
          )}
        </span>
        <div className="acts">
          <span className="muted small" aria-live="polite">
            {savedWords(editing.state, waits, commentary.error !== null)}
          </span>
          <Button variant="subtle" size="compact-sm" disabled={!editing.mayUndo} onClick={() => store.undo()}>
            Undo
          </Button>
          <Button variant="subtle" size="compact-sm" disabled={!editing.mayRedo} onClick={() => store.redo()}>
            Redo
          </Button>
          <Button variant="outline" loading={test.isPending} onClick={() => test.mutate()}>
            Send a test to me
          </Button>
          <Button
            component="a"
            variant="outline"
            {...(waits && { 'data-disabled': true })}
            href={`/api/reports/${report.id}/pdf${look ? lookQuery(look) : ''}`}
          >
            PDF
          </Button>
          <MakeNow report={report} client={client} look={look ?? { kind: 'own' }} />
          <Button component={Link} variant="outline" to={`/clients/${client.id}/schedules/new?report=${report.id}`}>
            Schedule
          </Button>
          <Release
            report={report}
            version={editing.version}
            waits={waits}
            mayRelease={member.role === 'owner' || member.role === 'manager'}
            onReleased={() => runs.refetch()}
          />
        </div>
      </div>
      <main className="composer">
        <Outline
          client={client.id}
          kinds={kinds}
          draft={draft}
          selected={selected}
          onSelect={select}
          onAdd={(fresh) => {
            const { edit, id } = addBelow(document, fresh, selected);
            store.edit(edit);
            select(id);
          }}
        />
        {/* biome-ignore lint/a11y/noNoninteractiveTabindex: it scrolls, so the keyboard has to reach it */}
        <section ref={well} className="desk-well" aria-label="Pages" tabIndex={0}>
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
            shown.pages.map(({ page }, i) => (
              <ScenePage
                // By its place: of a sheet that changed, only what differs is painted anew.
                key={i}
                page={page}
                lang={shown.lang}
                pictures={`/api/clients/${client.id}/pictures`}
                selected={page.blocks.some((b) => b.id === selected) ? selected : null}
                onSelect={onSheet}
              />
            ))
          ) : (
            <Loading lines={12} />
          )}
        </section>
        <aside className="choices" aria-label="Choices">
          {block ? (
            <BlockChoices
              client={client}
              kinds={kinds}
              block={block}
              period={shown?.period ?? null}
              written={shown?.commentary.find((w) => w.block === block.id)}
              commentary={commentary}
              onChange={(b) => store.edit(changesOf(block, b))}
              onRemove={() => store.edit({ op: 'removeBlock', block: block.id })}
              onMove={(by) => store.edit(...moveBy(document, block.id, by))}
            />
          ) : (
            <ReportChoices document={document} client={client} onEdit={(e) => store.edit(e)} />
          )}
        </aside>
      </main>
    </>
  );
}

/** The report as it is sent, with its choices beside it. */
export function Report() {
  const { report: id = '' } = useParams();
  const report = useGet('GET /api/reports/:report', { params: { report: id } });
  const clientId = report.data?.clientId ?? '';
  const client = useGet('GET /api/clients/:client', { params: { client: clientId } }, { enabled: clientId !== '' });
  if (report.error ?? client.error) {
    return (
      <main className="place">
        <Notice error={report.error ?? client.error} />
      </main>
    );
  }
  if (!report.data || !client.data) return <Loading />;
  return <Composer key={id} report={report.data} client={client.data} />;
}
