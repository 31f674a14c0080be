import { Button, Stack, Textarea } from '@mantine/core';

interface Props {
  as: 'over' | 'lines';
  /** The period that is looked at. */
  period: { label: string } | null;
  text: string;
  onWrite: (text: string) => void;
}

const SAID = {
  over: {
    label: (period: string) => `In your own words, for ${period}`,
    hint: 'Leave empty for the automatic sentence',
    empty: 'Use automatic sentence',
  },
  lines: {
    label: (period: string) => `Work done in ${period}`,
    hint: 'One entry per line',
    empty: 'Clear',
  },
};

/** Words in place of those that a block makes itself, or before them, for one period: the writer sees for which. */
export function WriteOver({ as, period, text, onWrite }: Props) {
  if (!period) return <span className="muted">Wait for the preview to load.</span>;
  return (
    <Stack gap={8}>
      <Textarea
        label={SAID[as].label(period.label)}
        description={SAID[as].hint}
        autosize
        minRows={3}
        maxRows={10}
        value={text}
        onChange={(e) => onWrite(e.currentTarget.value)}
      />
      {text.trim() !== '' && (
        <div>
          <Button variant="default" size="compact-sm" onClick={() => onWrite('')}>
            {SAID[as].empty}
          </Button>
        </div>
      )}
    </Stack>
  );
}
