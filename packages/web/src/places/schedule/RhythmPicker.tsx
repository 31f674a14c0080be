import type { On, Rule } from '@chronicon/core/calendar';
import { Chip, Group, NativeSelect, Radio, SegmentedControl, Stack } from '@mantine/core';
import { NumberField } from '../../parts/NumberField.tsx';
import { weekdayName } from './ruleWords.ts';

const DAYS = [1, 2, 3, 4, 5, 6, 7];
const KINDS = [
  { value: 'workdays', label: 'Working day' },
  { value: 'weekly', label: 'Week' },
  { value: 'monthly', label: 'Month' },
];

const START: Record<string, Rule> = {
  workdays: { freq: 'workdays' },
  weekly: { freq: 'weekly', every: 1, weekdays: [] },
  monthly: { freq: 'monthly', every: 1, on: { day: 3 } },
};

function Weekly({ rule, onChange }: { rule: Extract<Rule, { freq: 'weekly' }>; onChange: (r: Rule) => void }) {
  return (
    <Stack gap={10}>
      <Chip.Group
        multiple
        value={rule.weekdays.map(String)}
        onChange={(days) => onChange({ ...rule, weekdays: days.map(Number).sort((a, b) => a - b) })}
      >
        <Group gap={6}>
          {DAYS.map((d) => (
            <Chip key={d} value={String(d)} size="xs">
              {weekdayName(d)}
            </Chip>
          ))}
        </Group>
      </Chip.Group>
      <NumberField
        label="Weeks from one run to the next"
        description="Counted from the week of the first date"
        min={1}
        max={52}
        value={rule.every}
        onChange={(every) => onChange({ ...rule, every })}
      />
    </Stack>
  );
}

const kindOf = (on: On): string => ('day' in on ? 'day' : 'last' in on ? 'last' : 'workday' in on ? 'workday' : 'nth');
const ON: Record<string, On> = {
  day: { day: 3 },
  last: { last: true },
  workday: { workday: 2 },
  nth: { nth: 1, weekday: 1 },
};

function Monthly({ rule, onChange }: { rule: Extract<Rule, { freq: 'monthly' }>; onChange: (r: Rule) => void }) {
  const { on } = rule;
  const set = (next: On) => onChange({ ...rule, on: next });
  return (
    <Stack gap={10}>
      <Radio.Group aria-label="Day of the month" value={kindOf(on)} onChange={(kind) => set(ON[kind]!)}>
        <Stack gap={7}>
          <Radio value="day" label="on a day by its number" />
          <Radio value="last" label="on the last day" />
          <Radio value="workday" label="on a working day by its number" />
          <Radio value="nth" label="on a weekday" />
        </Stack>
      </Radio.Group>
      {'day' in on && (
        <NumberField
          label="Day"
          description="In shorter months, their last day"
          min={1}
          max={31}
          value={on.day}
          onChange={(day) => set({ day })}
        />
      )}
      {'workday' in on && (
        <NumberField label="Working day" min={1} max={23} value={on.workday} onChange={(workday) => set({ workday })} />
      )}
      {'nth' in on && (
        <Group grow>
          <NativeSelect
            label="Which"
            data={[1, 2, 3, 4]
              .map((n) => ({ value: String(n), label: `${n}.` }))
              .concat({ value: 'last', label: 'last' })}
            value={String(on.nth)}
            onChange={(e) => {
              const { value } = e.currentTarget;
              set({ ...on, nth: value === 'last' ? 'last' : (Number(value) as 1 | 2 | 3 | 4) });
            }}
          />
          <NativeSelect
            label="Weekday"
            data={DAYS.map((d) => ({ value: String(d), label: weekdayName(d) }))}
            value={String(on.weekday)}
            onChange={(e) => set({ ...on, weekday: Number(e.currentTarget.value) })}
          />
        </Group>
      )}
    </Stack>
  );
}

/** Plain choices; nothing is taken from the first date. */
export function RhythmPicker({ rule, onChange }: { rule: Rule; onChange: (rule: Rule) => void }) {
  return (
    <Stack gap={12}>
      <SegmentedControl
        aria-label="Rhythm"
        data={KINDS}
        value={rule.freq}
        onChange={(freq) => onChange(START[freq]!)}
      />
      {rule.freq === 'weekly' && <Weekly rule={rule} onChange={onChange} />}
      {rule.freq === 'monthly' && <Monthly rule={rule} onChange={onChange} />}
    </Stack>
  );
}
