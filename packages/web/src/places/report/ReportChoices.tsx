import type { Draft, Edit } from '@chronicon/core/contract/edits';
import { Checkbox, NativeSelect } from '@mantine/core';

type Document = Draft['document'];
type Paper = NonNullable<Document['paper']>;

interface Props {
  document: Document;
  client: string;
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
  const setOf = (page: string | null, paper: Paper | undefined, part: keyof Paper) => (value: string) =>
    onEdit({ op: 'paper', page, paper: changed(paper, part, value) });
  return (
    <div className="stack">
      <h2>The report</h2>
      <p className="muted small">
        This is the page as {client} will get it. Choose a part of it, on the page or in the outline, to change it.
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
          <NativeSelect
            key={page.id}
            label={`Sheets of “${page.title}”`}
            data={PAGE_LIES}
            value={page.paper?.orientation ?? ''}
            onChange={(e) => setOf(page.id, page.paper, 'orientation')(e.currentTarget.value)}
          />
        ))}
      <Checkbox
        label="Its figures go along"
        description="As a CSV file within the PDF"
        checked={document.attachFigures === true}
        onChange={(e) => onEdit({ op: 'attachFigures', attach: e.currentTarget.checked })}
      />
    </div>
  );
}
