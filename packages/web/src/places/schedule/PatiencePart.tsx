import type { ScheduleInput } from '@chronicon/core/contract';
import { PATIENCE_HOURS } from '@chronicon/core/contract/display';
import { Radio, Stack } from '@mantine/core';
import { SentencePart } from '../../parts/SentencePart.tsx';
import { clockAfter } from '../../parts/when.ts';
import { patienceWords } from './patienceWords.ts';

interface Props {
  input: Pick<ScheduleInput, 'patience' | 'time'>;
  wrong: boolean;
  onChange: (patch: Partial<ScheduleInput>) => void;
}

/** How long a run waits for figures that have not come by its time, as a part of the sentence. */
export function PatiencePart({ input, wrong, onChange }: Props) {
  const { patience, time } = input;
  return (
    <SentencePart about="Late figures" text={patienceWords(patience)} missing={wrong} width={340}>
      {() => (
        <Stack gap={10}>
          <Radio.Group
            label="If data is missing at send time"
            value={String(patience)}
            onChange={(hours) => onChange({ patience: Number(hours) as ScheduleInput['patience'] })}
          >
            <Stack gap={7} mt={6}>
              {PATIENCE_HOURS.map((hours) => (
                <Radio
                  key={hours}
                  value={String(hours)}
                  label={hours === 0 ? 'hold for review' : `wait until ${clockAfter(time, hours)}`}
                />
              ))}
            </Stack>
          </Radio.Group>
          <span className="small muted">
            Sends as soon as data is complete; if it’s still missing by then, it’s held.
          </span>
        </Stack>
      )}
    </SentencePart>
  );
}
