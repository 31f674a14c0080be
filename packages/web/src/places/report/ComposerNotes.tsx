import { Link } from 'react-router';
import { Notice } from '../../parts/Notice.tsx';
import { Overwrote } from './Overwrote.tsx';
import type { useBlockKinds } from './useBlockKinds.ts';
import type { useCommentary } from './useCommentary.ts';
import type { useEdits } from './useEdits.ts';
import type { usePreview } from './usePreview.ts';

/** What stands above the sheets: what went wrong, what somebody else did, and what the report lacks. */
export function ComposerNotes({
  editing,
  commentary,
  kinds,
  preview,
  test,
}: {
  editing: ReturnType<typeof useEdits>;
  commentary: ReturnType<typeof useCommentary>;
  kinds: ReturnType<typeof useBlockKinds>;
  preview: Pick<ReturnType<typeof usePreview>, 'error' | 'shown'>;
  test: { error: Error | null; data: { editionId: string } | undefined };
}) {
  const lacks = preview.shown?.lacks ?? [];
  return (
    <div className="lack stack">
      <Notice error={preview.error ?? editing.error ?? commentary.error ?? test.error} />
      {editing.state === 'broken' && <Notice>Offline. Changes are kept here and saved when the server is back.</Notice>}
      {editing.lost > 0 && <Notice>Someone deleted what you were editing. Showing the latest version.</Notice>}
      <Overwrote
        document={editing.draft.document}
        kinds={kinds}
        store={editing.store}
        overwritten={editing.overwritten}
        over={commentary.over}
        onLetGo={commentary.letGo}
      />
      {lacks.length > 0 && (
        <Notice>
          {lacks.map((l) => (
            <div key={l}>{l}</div>
          ))}
        </Notice>
      )}
      {test.data && (
        <div className="note small">
          Test sent to you. <Link to={`/editions/${test.data.editionId}`}>View it</Link>
        </div>
      )}
    </div>
  );
}
