import type { Client, ScheduleInput } from '@chronicon/core/contract';
import { Checkbox, Radio, Stack } from '@mantine/core';
import type { ApiError } from '../../api/call.ts';
import { fieldError } from '../../parts/Notice.tsx';
import { SentencePart } from '../../parts/SentencePart.tsx';
import { ReadersPicker } from './ReadersPicker.tsx';
import { type Colleague, readersWords } from './readersText.ts';

interface Props {
  client: Client;
  colleagues: readonly Colleague[];
  input: ScheduleInput;
  error: ApiError | null;
  wrong: boolean;
  onChange: (patch: Partial<ScheduleInput>) => void;
}

/** Whom a schedule reaches, as a part of its sentence. */
export function ReadersPart({ client, colleagues, input, error, wrong, onChange }: Props) {
  const { readers, groups, archive, mailing } = input;
  const isNobody = readers.length === 0 && !groups;
  const everybody = readersWords(client, colleagues, readers);
  const text = archive && isNobody ? 'the archive only' : isNobody ? 'nobody yet' : everybody || 'nobody else';
  return (
    <>
      {groups && 'the readers of each group, and to '}
      <SentencePart about="Readers" text={text} missing={(isNobody && !archive) || wrong} width={380}>
        {() => (
          <Stack gap={10}>
            <ReadersPicker
              client={client}
              colleagues={colleagues}
              readers={readers}
              lines={mailing === 'one'}
              error={fieldError(error, 'readers')}
              onChange={(next) => onChange({ readers: next, ...(next.length > 0 && { archive: false }) })}
            />
            <Radio.Group
              label="Emails"
              value={mailing}
              onChange={(value) => onChange({ mailing: value as ScheduleInput['mailing'] })}
            >
              <Stack gap={7} mt={6}>
                <Radio value="each" label="one for each, with their own greeting" />
                <Radio value="one" label="one for all, in To, Cc and Bcc" />
              </Stack>
            </Radio.Group>
            {isNobody && (
              <Checkbox
                checked={archive}
                onChange={(e) => onChange({ archive: e.currentTarget.checked })}
                label="No readers (archive only)"
              />
            )}
          </Stack>
        )}
      </SentencePart>
    </>
  );
}
