import type { Client, ScheduleInput } from '@chronicon/core/contract';
import { NativeSelect, Radio, Stack, TextInput } from '@mantine/core';
import type { ApiError } from '../../api/call.ts';
import { fieldError } from '../../parts/Notice.tsx';
import { SentencePart } from '../../parts/SentencePart.tsx';
import { useSession } from '../../shell/sessionContext.ts';
import type { Colleague } from './readersText.ts';

interface Props {
  client: Client;
  /** Those who may let an edition go. */
  askable: readonly Colleague[];
  input: ScheduleInput;
  error: ApiError | null;
  wrong: boolean;
  onChange: (patch: Partial<ScheduleInput>) => void;
}

/** Who looks at an edition before it goes, as a part of the sentence. */
export function SignOffPart({ client, askable, input, error, wrong, onChange }: Props) {
  const { member } = useSession();
  const { signOff } = input;
  const asked = signOff.rule === 'none' ? null : (signOff.asks ?? client.managerId);
  const isMine = asked === member.id;
  const who = isMine ? 'I' : (askable.find((m) => m.id === asked)?.name ?? client.manager);
  const approves = isMine ? 'approve' : 'approves';
  const text =
    signOff.rule === 'none'
      ? 'sent automatically'
      : signOff.rule === 'first'
        ? `once ${who} ${approves}`
        : `once ${who} ${approves}, or at ${signOff.until} at the latest`;
  const choose = (rule: string) => {
    if (rule === 'none') onChange({ signOff: { rule } });
    if (rule === 'first') onChange({ signOff: { rule, asks: asked ?? member.id } });
    if (rule === 'until') onChange({ signOff: { rule, until: input.time, asks: asked ?? member.id } });
  };
  return (
    <SentencePart about="Approval" text={text} missing={wrong} width={380}>
      {() => (
        <Stack gap={10}>
          <Radio.Group label="Before it’s sent" value={signOff.rule} onChange={choose}>
            <Stack gap={7} mt={6}>
              <Radio value="first" label="require my approval" description="Waits for approval" />
              <Radio
                value="until"
                label="ask for approval, then send anyway"
                description="Unless someone holds it or an unusual day needs explaining"
              />
              <Radio value="none" label="send automatically" />
            </Stack>
          </Radio.Group>
          {signOff.rule === 'until' && (
            <TextInput
              type="time"
              label="Until"
              description={`On the day of the run, in the schedule’s time zone; never sent before ${input.time}`}
              value={signOff.until}
              error={fieldError(error, 'signOff.until')}
              onChange={(e) => {
                const until = e.currentTarget.value;
                if (until) onChange({ signOff: { ...signOff, until } });
              }}
            />
          )}
          {signOff.rule !== 'none' && (
            <NativeSelect
              label="Approver"
              description="Asked the day before, as soon as the PDF is ready"
              data={askable.map((m) => ({ value: m.id, label: m.id === member.id ? `${m.name} (me)` : m.name }))}
              value={asked ?? ''}
              onChange={(e) => onChange({ signOff: { ...signOff, asks: e.currentTarget.value } })}
            />
          )}
        </Stack>
      )}
    </SentencePart>
  );
}
