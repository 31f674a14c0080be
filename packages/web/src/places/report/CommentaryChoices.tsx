import type { Written } from '@chronicon/core/contract';
import { Button, Radio, Stack, Textarea } from '@mantine/core';
import type { Block } from './block.ts';

/** A block whose words a person writes, standing or for one period. */
export type Commentary = Extract<Block, { kind: 'commentary' }>;

interface Props {
  block: Commentary;
  onChange: (block: Commentary) => void;
  /** The period that is looked at, and what was written for it. */
  period: { from: string; to: string; label: string } | null;
  written: Written | undefined;
  text: string;
  onWrite: (text: string) => void;
}

const HINT =
  'An empty line starts a paragraph; “- ” begins a point; **bold**, [words](https://…); figures as {{figure.visits}}, {{change.visits}}';

/** Commentary stands in every edition, or is written anew for each period: the writer sees for which. */
export function CommentaryChoices({ block, onChange, period, written, text, onWrite }: Props) {
  return (
    <Stack gap={12}>
      <Radio.Group
        label="It is"
        value={block.span}
        onChange={(span) =>
          onChange({ ...block, span: span as Commentary['span'], text: span === 'standing' ? block.text || text : '' })
        }
      >
        <Stack gap={6} mt={4}>
          <Radio value="period" label="written for each period" description="Hidden in editions with no text for it" />
          <Radio value="standing" label="standing" description="The same text in every edition" />
        </Stack>
      </Radio.Group>
      {block.span === 'standing' ? (
        <Textarea
          label="Fixed commentary"
          description={HINT}
          autosize
          minRows={8}
          maxRows={20}
          value={block.text}
          onChange={(e) => onChange({ ...block, text: e.currentTarget.value })}
        />
      ) : period === null ? (
        <span className="muted">Wait for the preview to load.</span>
      ) : (
        <>
          <Textarea
            label={`Commentary for ${period.label}`}
            description={HINT}
            autosize
            minRows={8}
            maxRows={20}
            value={text}
            onChange={(e) => onWrite(e.currentTarget.value)}
          />
          {text.trim() === '' && <span className="tone-attention small">Nothing written for this period yet.</span>}
          {written?.before && text.trim() === '' && (
            <Stack gap={4}>
              <span className="muted small">
                {written.before.label}: “{written.before.text.slice(0, 140)}
                {written.before.text.length > 140 && ' …'}”
              </span>
              <div>
                <Button variant="default" size="compact-sm" onClick={() => onWrite(written.before!.text)}>
                  Start from {written.before.label}
                </Button>
              </div>
            </Stack>
          )}
        </>
      )}
    </Stack>
  );
}
