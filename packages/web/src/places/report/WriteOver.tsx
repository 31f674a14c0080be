import { Button, Stack, Textarea } from '@mantine/core';

interface Props {
  /** The period that is looked at. */
  period: { label: string } | null;
  text: string;
  onWrite: (text: string) => void;
}

/** Words in place of those that a block makes itself, for one period: the writer sees for which. */
export function WriteOver({ period, text, onWrite }: Props) {
  if (!period) return <span className="muted">The page has to be drawn first.</span>;
  return (
    <Stack gap={8}>
      <Textarea
        label={`In your own words, for ${period.label}`}
        description="Empty: the sentence is made from the figures"
        autosize
        minRows={3}
        maxRows={10}
        value={text}
        onChange={(e) => onWrite(e.currentTarget.value)}
      />
      {text.trim() !== '' && (
        <div>
          <Button variant="default" size="compact-sm" onClick={() => onWrite('')}>
            Let the figures say it
          </Button>
        </div>
      )}
    </Stack>
  );
}
