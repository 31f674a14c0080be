import type { Client, Look, Report, ReportRun } from '@chronicon/core/contract';
import { Button, TextInput } from '@mantine/core';
import { memo, type ReactNode } from 'react';
import { Link } from 'react-router';
import { ComparisonPicker, PeriodPicker } from '../../parts/PeriodPicker.tsx';
import { comparisonWords, periodWords } from '../../parts/periods.ts';
import { SentencePart } from '../../parts/SentencePart.tsx';
import { useSession } from '../../shell/sessionContext.ts';
import type { EditStore, SaveState } from './editStore.ts';
import { LookPicker } from './LookPicker.tsx';
import { lookQuery } from './looks.ts';
import { MakeNow } from './MakeNow.tsx';
import { Release } from './Release.tsx';
import type { useEdits } from './useEdits.ts';
import type { Shown } from './usePreview.ts';

/** How it stands with what was edited. */
function savedWords(state: SaveState, waits: boolean, failed: boolean): string {
  if (state === 'broken') return 'Not saved – retrying';
  if (state === 'refused' || failed) return 'Not saved';
  return waits ? 'Saving …' : 'Draft saved';
}

interface Props {
  report: Report;
  client: Client;
  editing: ReturnType<typeof useEdits>;
  store: EditStore;
  look: Look | null;
  runs: readonly ReportRun[];
  /** The dates that are looked at, once they are known. */
  period: Shown['period'] | null;
  compared: Shown['compared'] | null;
  /** Something is still being saved; what was written for a period could not be. */
  waits: boolean;
  failed: boolean;
  testing: boolean;
  onTest: () => void;
  onLook: (look: Look) => void;
  onReleased: () => void;
  /** What else is offered beside undo and redo. */
  children?: ReactNode;
}

/** Whose report it is, for which dates it is seen, and what can be done with the whole of it. */
export const ComposerBar = memo(function ComposerBar(props: Props) {
  const { report, client, editing, store, look, period, compared, waits } = props;
  const { member } = useSession();
  const { document, title } = editing.draft;
  return (
    <div className="composer-bar">
      <Link className="whose" to={`/clients/${client.id}/reports`}>
        {client.name}
      </Link>
      <TextInput
        aria-label="Report title"
        value={title}
        onChange={(e) => store.edit({ op: 'title', title: e.currentTarget.value })}
        error={title.trim() === '' ? 'Enter a title.' : undefined}
        w={200}
      />
      <span className="covers">
        {look && (
          <>
            Preview <LookPicker look={look} runs={props.runs} onChange={props.onLook} />
            {' · '}
          </>
        )}
        covers{' '}
        <SentencePart about="Period" text={periodWords(document.period)}>
          {() => (
            <PeriodPicker
              fiscalStart={client.fiscalStart}
              value={document.period}
              onChange={(period) => store.edit({ op: 'period', period })}
            />
          )}
        </SentencePart>{' '}
        compared with{' '}
        <SentencePart about="Comparison" text={comparisonWords(document.comparison)}>
          {() => (
            <ComparisonPicker
              value={document.comparison}
              onChange={(comparison) => store.edit({ op: 'comparison', comparison })}
            />
          )}
        </SentencePart>
        {period && (
          <span className="muted small dates">
            {period.label}
            {compared && ` compared with ${compared.label}`}
          </span>
        )}
      </span>
      <div className="acts">
        <span className="muted small" aria-live="polite">
          {savedWords(editing.state, waits, props.failed)}
        </span>
        <Button variant="subtle" size="compact-sm" disabled={!editing.mayUndo} onClick={() => store.undo()}>
          Undo
        </Button>
        <Button variant="subtle" size="compact-sm" disabled={!editing.mayRedo} onClick={() => store.redo()}>
          Redo
        </Button>
        <Button variant="outline" loading={props.testing} onClick={props.onTest}>
          Send me a test
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
          onReleased={props.onReleased}
        />
        {props.children}
      </div>
    </div>
  );
});
