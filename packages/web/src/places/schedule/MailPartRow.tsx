import { Button, NativeSelect, Textarea, TextInput } from '@mantine/core';
import type { ApiError, Reply } from '../../api/call.ts';
import { fieldError } from '../../parts/Notice.tsx';
import { isShownKind, PART_WORDS, type Part, partField } from './mailParts.ts';

interface Props {
  part: Part;
  at: number;
  of: number;
  /** What the report has that mails can show. */
  offered: Reply<'GET /api/reports/:report/mail-parts'>;
  error: ApiError | null;
  onChange: (part: Part) => void;
  onMove: (by: -1 | 1) => void;
  onRemove: () => void;
}

/** One part of a mail: what it is, its choices, its place. */
export function MailPartRow({ part, at, of, offered, error, onChange, onMove, onRemove }: Props) {
  const { label, about } = PART_WORDS[part.kind];
  const fit = offered.filter((o) => o.as === part.kind);
  const place = `${label}, part ${at + 1} of ${of}`;
  return (
    <li className="mail-part">
      <div className="row mail-part-head">
        <b>{label}</b>
        <span className="muted small">{about}</span>
        <span className="acts">
          <Button
            size="compact-xs"
            variant="subtle"
            disabled={at === 0}
            aria-label={`Up: ${place}`}
            onClick={() => onMove(-1)}
          >
            Up
          </Button>
          <Button
            size="compact-xs"
            variant="subtle"
            disabled={at === of - 1}
            aria-label={`Down: ${place}`}
            onClick={() => onMove(1)}
          >
            Down
          </Button>
          {part.kind !== 'message' && (
            <Button size="compact-xs" variant="subtle" color="red" aria-label={`Remove: ${place}`} onClick={onRemove}>
              Remove
            </Button>
          )}
        </span>
      </div>
      {isShownKind(part.kind) && 'block' in { block: undefined, ...part } && (
        <NativeSelect
          aria-label={`What it shows: ${place}`}
          value={('block' in part && part.block) || ''}
          error={fieldError(error, partField(at, 'block'))}
          data={[
            {
              value: '',
              label: fit.length > 0 ? `the first of the report: ${fit[0]!.about}` : 'nothing: the report has none',
            },
            ...fit.map((o) => ({ value: o.block, label: `${o.page}: ${o.about || o.kind}` })),
            ...('block' in part && part.block && !fit.some((o) => o.block === part.block)
              ? [{ value: part.block, label: 'a deleted block' }]
              : []),
          ]}
          onChange={(e) => {
            const block = e.currentTarget.value;
            onChange({ kind: part.kind, ...(block && { block }) } as Part);
          }}
        />
      )}
      {part.kind === 'text' && (
        <Textarea
          aria-label={`Words: ${place}`}
          rows={3}
          resize="vertical"
          value={part.text}
          error={fieldError(error, partField(at, 'text'))}
          onChange={(e) => onChange({ ...part, text: e.currentTarget.value })}
        />
      )}
      {part.kind === 'button' && (
        <div className="field-pairs">
          <TextInput
            label="Label"
            placeholder="See the walk-through"
            value={part.label}
            error={fieldError(error, partField(at, 'label'))}
            onChange={(e) => onChange({ ...part, label: e.currentTarget.value })}
          />
          <TextInput
            label="Leads to"
            placeholder="https://"
            value={part.link}
            error={fieldError(error, partField(at, 'link'))}
            onChange={(e) => onChange({ ...part, link: e.currentTarget.value })}
          />
        </div>
      )}
    </li>
  );
}
