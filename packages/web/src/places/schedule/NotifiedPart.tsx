import type { ScheduleInput } from '@chronicon/core/contract';
import { Checkbox, Stack } from '@mantine/core';
import { SentencePart } from '../../parts/SentencePart.tsx';
import type { Colleague } from './readersText.ts';

type Notified = ScheduleInput['notified'];
const OF = [
  { value: 'made', label: 'made' },
  { value: 'sent', label: 'sent' },
  { value: 'held', label: 'held' },
] as const;

interface Props {
  colleagues: readonly Colleague[];
  notified: Notified;
  wrong: boolean;
  onChange: (notified: Notified) => void;
}

/** Members who get a mail when an edition is made, sent or held; as a part of the sentence. */
export function NotifiedPart({ colleagues, notified, wrong, onChange }: Props) {
  const names = notified.map((n) => colleagues.find((m) => m.id === n.member)?.name ?? 'a member');
  const text =
    names.length === 0
      ? 'nobody'
      : names.length <= 2
        ? names.join(' and ')
        : `${names[0]} and ${names.length - 1} more`;
  return (
    <SentencePart about="Team notifications" text={text} missing={wrong} width={360}>
      {() => (
        <Stack gap={10}>
          <span className="small muted">
            Colleagues emailed when an edition is created, sent or held (not readers).
          </span>
          {colleagues.map((m) => (
            <Checkbox.Group
              key={m.id}
              label={m.name}
              value={notified.find((n) => n.member === m.id)?.of ?? []}
              onChange={(of) => {
                const others = notified.filter((n) => n.member !== m.id);
                onChange(of.length > 0 ? [...others, { member: m.id, of: of as Notified[number]['of'] }] : others);
              }}
            >
              <div className="row" style={{ gap: 14 }}>
                {OF.map((o) => (
                  <Checkbox key={o.value} {...o} size="xs" />
                ))}
              </div>
            </Checkbox.Group>
          ))}
        </Stack>
      )}
    </SentencePart>
  );
}
