import type { Look, ReportRun } from '@chronicon/core/contract';
import { Radio, Stack } from '@mantine/core';
import { FixedDates } from '../../parts/PeriodPicker.tsx';
import { SentencePart } from '../../parts/SentencePart.tsx';
import { lookText, lookWords, parseLook, runWords } from './looks.ts';

/** The dates that the page is looked at for: those of a coming run, or any. Looking changes nothing. */
export function LookPicker({
  look,
  runs,
  onChange,
}: {
  look: Look;
  runs: readonly ReportRun[];
  onChange: (look: Look) => void;
}) {
  return (
    <SentencePart about="Preview" text={lookWords(look, runs)} width={420}>
      {(close) => (
        <Stack gap={10}>
          <Radio.Group
            label="Preview"
            description="Doesn’t affect what’s sent."
            value={lookText(look)}
            onChange={(text) => {
              const chosen = parseLook(text);
              if (chosen) onChange(chosen);
              close();
            }}
          >
            <Stack gap={7} mt={6}>
              {runs.map((r) => {
                const value = lookText({ kind: 'run', schedule: r.schedule, nominal: r.nominal });
                return <Radio key={value} value={value} label={runWords(r)} />;
              })}
              <Radio value="own" label="for the report’s own dates" />
            </Stack>
          </Radio.Group>
          <FixedDates
            spec={look.kind === 'dates' ? look : null}
            onChange={({ from, to }) => {
              onChange({ kind: 'dates', from, to });
              close();
            }}
          />
        </Stack>
      )}
    </SentencePart>
  );
}
