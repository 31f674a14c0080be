import { Button } from '@mantine/core';

interface Props {
  /** What the row is called, for those who hear the buttons without it. */
  name: string;
  onChange: () => void;
  onRemove?: (() => void) | undefined;
}

/** What can be done with one row of a list. */
export function RowActions({ name, onChange, onRemove }: Props) {
  return (
    <span className="row" style={{ gap: 4, flexWrap: 'nowrap' }}>
      <Button size="compact-xs" variant="default" aria-label={`Change ${name}`} onClick={onChange}>
        Change
      </Button>
      {onRemove && (
        <Button size="compact-xs" variant="subtle" color="red" aria-label={`Remove ${name}`} onClick={onRemove}>
          Remove
        </Button>
      )}
    </span>
  );
}
