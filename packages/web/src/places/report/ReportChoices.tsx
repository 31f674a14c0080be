import type { Client } from '@chronicon/core/contract';
import type { Draft, Edit } from '@chronicon/core/contract/edits';
import { Checkbox, NativeSelect } from '@mantine/core';
import { useGet } from '../../api/hooks.ts';
import { FilterPicker } from '../../parts/FilterPicker.tsx';
import { filterWords } from '../../parts/filterWords.ts';
import { SentencePart } from '../../parts/SentencePart.tsx';
import { Assumptions } from './Assumptions.tsx';

type Document = Draft['document'];
type Paper = NonNullable<Document['paper']>;

interface Props {
  document: Document;
  client: Client;
  onEdit: (edit: Edit) => void;
}

const SIZES = [
  { value: '', label: 'As the client has it' },
  { value: 'a4', label: 'A4' },
  { value: 'letter', label: 'Letter' },
];
const LIES = [
  { value: '', label: 'As the client has it' },
  { value: 'portrait', label: 'Upright' },
  { value: 'landscape', label: 'Across' },
];
const PAGE_LIES = [{ value: '', label: 'As the report' }, ...LIES.slice(1)];

/** A choice with one of its parts changed; an empty text leaves the part to what stands above. */
function changed(paper: Paper | undefined, part: keyof Paper, value: string): Paper {
  const { [part]: _, ...rest } = paper ?? {};
  return value === '' ? rest : { ...rest, [part]: value as never };
}

/** What is chosen for the report as a whole: its paper, and whether its figures go along. */
export function ReportChoices({ document, client, onEdit }: Props) {
  const params = { client: client.id };
  const known = useGet('GET /api/clients/:client/metrics', { params });
  const segments = useGet('GET /api/clients/:client/segments', { params });
  const dimensions = known.data?.dimensions ?? [];
  const filter = document.filter ?? [];
  const setOf = (page: string | null, paper: Paper | undefined, part: keyof Paper) => (value: string) =>
    onEdit({ op: 'paper', page, paper: changed(paper, part, value) });
  return (
    <div className="stack">
      <h2>The report</h2>
      <p className="muted small">
        This is the page as {client.name} will get it. Choose a part of it, on the page or in the outline, to change it.
      </p>
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
        </SentencePart>
        , where a part of it says nothing else.
      </p>
      <NativeSelect
        label="Paper"
        data={SIZES}
        value={document.paper?.size ?? ''}
        onChange={(e) => setOf(null, document.paper, 'size')(e.currentTarget.value)}
      />
      <NativeSelect
        label="Sheets lie"
        data={LIES}
        value={document.paper?.orientation ?? ''}
        onChange={(e) => setOf(null, document.paper, 'orientation')(e.currentTarget.value)}
      />
      {document.pages.length > 1 &&
        document.pages.map((page) => (
          <fieldset key={page.id} className="page-choices">
            <legend>{page.title}</legend>
            <NativeSelect
              label="Sheets lie"
              aria-label={`Sheets of “${page.title}”`}
              data={PAGE_LIES}
              value={page.paper?.orientation ?? ''}
              onChange={(e) => setOf(page.id, page.paper, 'orientation')(e.currentTarget.value)}
            />
            <Checkbox
              label="It goes out"
              aria-label={`“${page.title}” goes out`}
              checked={!page.dropped}
              // One page at least goes out.
              disabled={!page.dropped && document.pages.filter((p) => !p.dropped).length === 1}
              onChange={(e) => onEdit({ op: 'dropPage', page: page.id, dropped: !e.currentTarget.checked })}
            />
          </fieldset>
        ))}
      <Checkbox
        label="Its figures go along"
        description="As a CSV file within the PDF"
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
