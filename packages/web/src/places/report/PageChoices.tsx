import { PAGE_TITLE } from '@chronicon/core/bounds';
import type { Edit } from '@chronicon/core/contract/edits';
import { Button, Checkbox, NativeSelect, TextInput } from '@mantine/core';
import type { Document, Page } from './documentEdits.ts';
import { changedPaper, PAGE_LIES, SIZES } from './paperChoices.ts';

interface Props {
  document: Document;
  page: Page;
  onEdit: (...edits: Edit[]) => void;
  onMove: (by: -1 | 1) => void;
  onDuplicate: () => void;
  onCopy: () => void;
  onRemove: () => void;
}

/** What is chosen for one page: its title, its paper, whether it goes out. */
export function PageChoices({ document, page, onEdit, onMove, onDuplicate, onCopy, onRemove }: Props) {
  const at = document.pages.indexOf(page);
  // At least one page must be included.
  const lastOut = !page.dropped && document.pages.filter((p) => !p.dropped).length === 1;
  const setPaper = (part: 'size' | 'orientation') => (value: string) =>
    onEdit({ op: 'paper', page: page.id, paper: changedPaper(page.paper, part, value) });
  return (
    <div className="stack">
      <h2>Page {at + 1}</h2>
      <TextInput
        label="Title"
        maxLength={PAGE_TITLE}
        value={page.title}
        onChange={(e) => onEdit({ op: 'namePage', page: page.id, title: e.currentTarget.value })}
        error={page.title.trim() === '' ? 'Enter a page title.' : undefined}
      />
      <NativeSelect
        label="Paper"
        data={[{ value: '', label: 'Same as the report' }, ...SIZES.slice(1)]}
        value={page.paper?.size ?? ''}
        onChange={(e) => setPaper('size')(e.currentTarget.value)}
      />
      <NativeSelect
        label="Orientation"
        data={PAGE_LIES}
        value={page.paper?.orientation ?? ''}
        onChange={(e) => setPaper('orientation')(e.currentTarget.value)}
      />
      <Checkbox
        label="Include in editions"
        description={lastOut ? 'At least one page must be included' : undefined}
        checked={!page.dropped}
        disabled={lastOut}
        onChange={(e) => onEdit({ op: 'dropPage', page: page.id, dropped: !e.currentTarget.checked })}
      />
      <fieldset className="acts-of-block" aria-label="Page actions">
        <Button size="compact-sm" variant="default" title="Alt ↑" disabled={at === 0} onClick={() => onMove(-1)}>
          Up
        </Button>
        <Button
          size="compact-sm"
          variant="default"
          title="Alt ↓"
          disabled={at === document.pages.length - 1}
          onClick={() => onMove(1)}
        >
          Down
        </Button>
        <Button size="compact-sm" variant="default" title="Ctrl D" onClick={onDuplicate}>
          Duplicate
        </Button>
        <Button size="compact-sm" variant="default" title="Ctrl C" onClick={onCopy}>
          Copy
        </Button>
        <Button
          size="compact-sm"
          variant="subtle"
          color="red"
          title="Del"
          disabled={document.pages.length === 1 || lastOut}
          onClick={onRemove}
        >
          Remove
        </Button>
      </fieldset>
    </div>
  );
}
