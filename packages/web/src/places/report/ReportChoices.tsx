import type { Client } from '@chronicon/core/contract';
import type { Draft, Edit } from '@chronicon/core/contract/edits';
import { Checkbox, NativeSelect } from '@mantine/core';
import { useGet } from '../../api/hooks.ts';
import { FilterPicker } from '../../parts/FilterPicker.tsx';
import { filterWords } from '../../parts/filterWords.ts';
import { SentencePart } from '../../parts/SentencePart.tsx';
import { Assumptions } from './Assumptions.tsx';
import { changedPaper, LIES, SIZES } from './paperChoices.ts';

type Document = Draft['document'];
interface Props {
  document: Document;
  client: Client;
  onEdit: (edit: Edit) => void;
}

/** What is chosen for the report as a whole: its paper, and whether its figures go along. */
export function ReportChoices({ document, client, onEdit }: Props) {
  const params = { client: client.id };
  const known = useGet('GET /api/clients/:client/metrics', { params });
  const segments = useGet('GET /api/clients/:client/segments', { params });
  const dimensions = known.data?.dimensions ?? [];
  const filter = document.filter ?? [];
  const setPaper = (part: 'size' | 'orientation') => (value: string) =>
    onEdit({ op: 'paper', page: null, paper: changedPaper(document.paper, part, value) });
  return (
    <div className="stack">
      <h2>The report</h2>
      <p className="muted small">This is what readers see. Select a part on the page or in the outline to edit it.</p>
      <p className="sentence compact own-choices">
        It counts{' '}
        <SentencePart
          about="Filter of the report"
          text={filterWords(filter, { dimensions, segments: segments.data ?? [] })}
          width={360}
        >
          {() => (
            <FilterPicker
              client={client.id}
              dimensions={dimensions}
              parts={filter}
              onChange={(parts) => onEdit({ op: 'filter', filter: parts })}
            />
          )}
        </SentencePart>{' '}
        unless a block says otherwise.
      </p>
      <NativeSelect
        label="Paper"
        data={SIZES}
        value={document.paper?.size ?? ''}
        onChange={(e) => setPaper('size')(e.currentTarget.value)}
      />
      <NativeSelect
        label="Orientation"
        data={LIES}
        value={document.paper?.orientation ?? ''}
        onChange={(e) => setPaper('orientation')(e.currentTarget.value)}
      />
      <Checkbox
        label="Attach data"
        description="As a CSV inside the PDF"
        checked={document.attachFigures === true}
        onChange={(e) => onEdit({ op: 'attachFigures', attach: e.currentTarget.checked })}
      />
      <Assumptions
        currency={client.currency}
        assumptions={document.assumptions ?? []}
        onChange={(assumptions) => onEdit({ op: 'assumptions', assumptions })}
      />
    </div>
  );
}
