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
  const who = asked === member.id ? 'me' : (askable.find((m) => m.id === asked)?.name ?? client.manager);
  const text =
    signOff.rule === 'none'
      ? 'sent by itself'
      : signOff.rule === 'first'
        ? `once it was shown to ${who}`
        : `after asking ${who} until ${signOff.until}`;
  const choose = (rule: string) => {
    if (rule === 'none') onChange({ signOff: { rule } });
    if (rule === 'first') onChange({ signOff: { rule, asks: asked ?? member.id } });
    if (rule === 'until') onChange({ signOff: { rule, until: input.time, asks: asked ?? member.id } });
  };
  return (
    <SentencePart about="Sign-off" text={text} missing={wrong} width={380}>
      {() => (
        <Stack gap={10}>
          <Radio.Group label="Before it goes" value={signOff.rule} onChange={choose}>
            <Stack gap={7} mt={6}>
              <Radio value="first" label="ask me first" description="It waits until somebody lets it go" />
              <Radio
                value="until"
                label="ask until a time, then send"
                description="Unless somebody holds it, or an odd day has to be explained"
              />
              <Radio value="none" label="send by itself" />
            </Stack>
          </Radio.Group>
          {signOff.rule === 'until' && (
            <TextInput
              type="time"
              label="Until"
              description={`On the day it runs, by the schedule’s clock; it never goes before ${input.time}`}
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
              label="Who is asked"
              description="The day before, as soon as it is drawn"
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
