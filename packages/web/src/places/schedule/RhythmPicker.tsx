import { EVERY_MONTHS, EVERY_WEEKS, MOST_WORKDAY } from '@chronicon/core/bounds';
import type { On, Rule } from '@chronicon/core/calendar';
import { Chip, Group, NativeSelect, Radio, Stack } from '@mantine/core';
import { DateField } from '../../parts/DateField.tsx';
import { NumberField } from '../../parts/NumberField.tsx';
import { monthName, ordinal, weekdayName } from './ruleWords.ts';

const DAYS = [1, 2, 3, 4, 5, 6, 7];
const KINDS = [
  { value: 'daily', label: 'Day' },
  { value: 'workdays', label: 'Working day' },
  { value: 'weekly', label: 'Week' },
  { value: 'monthly', label: 'Month' },
  { value: 'quarterly', label: 'Quarter' },
  { value: 'yearly', label: 'Year' },
  { value: 'once', label: 'Once' },
];
const MONTHS = Array.from({ length: 12 }, (_, i) => ({ value: String(i + 1), label: monthName(i + 1) }));
const OF_QUARTER = [1, 2, 3].map((m) => ({ value: String(m), label: `its ${ordinal(m)} month` }));

/** Where each kind begins; what was chosen of the day stays where it can. */
const startOf = (freq: string, before: Rule, today: string): Rule => {
  const day = 'on' in before ? before.on : { day: 3 };
  switch (freq) {
    case 'daily':
    case 'workdays':
      return { freq };
    case 'weekly':
      // The weekday of its first date, until others are chosen.
      return { freq, every: 1, weekdays: [new Date(`${today}T00:00:00Z`).getUTCDay() || 7] };
    case 'quarterly':
      return { freq, month: 1, on: day };
    case 'yearly':
      return { freq, month: 1, on: day };
    case 'once':
      return { freq, date: today };
    default:
      return { freq: 'monthly', every: 1, on: day };
  }
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
        max={EVERY_WEEKS}
        value={rule.every}
        onChange={(every) => onChange({ ...rule, every })}
      />
    </Stack>
  );
}

const kindOf = (on: On): string => {
  if ('workday' in on) return on.workday > 0 ? 'workday' : 'fromEnd';
  return 'day' in on ? 'day' : 'last' in on ? 'last' : 'nth';
};
const ON: Record<string, On> = {
  day: { day: 3 },
  last: { last: true },
  workday: { workday: 2 },
  fromEnd: { workday: -1 },
  nth: { nth: 1, weekday: 1 },
};

/** A day within a month: of each one, of a quarter's, or of the year's. */
function DayOfMonth({ on, set }: { on: On; set: (on: On) => void }) {
  return (
    <Stack gap={10}>
      <Radio.Group aria-label="Day of the month" value={kindOf(on)} onChange={(kind) => set(ON[kind]!)}>
        <Stack gap={7}>
          <Radio value="day" label="on a day by its number" />
          <Radio value="last" label="on the last day" />
          <Radio value="workday" label="on a working day, counted from the first" />
          <Radio value="fromEnd" label="on a working day, counted from the last" />
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
        <NumberField
          label={on.workday > 0 ? 'Working day' : 'Working day from the last'}
          description="Skipped in months with fewer working days"
          min={1}
          max={MOST_WORKDAY}
          value={Math.abs(on.workday)}
          onChange={(n) => set({ workday: on.workday > 0 ? n : -n })}
        />
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
export function RhythmPicker({ rule, today, onChange }: { rule: Rule; today: string; onChange: (rule: Rule) => void }) {
  return (
    <Stack gap={12}>
      <NativeSelect
        label="Every"
        data={KINDS}
        value={rule.freq}
        onChange={(e) => onChange(startOf(e.currentTarget.value, rule, today))}
      />
      {rule.freq === 'weekly' && <Weekly rule={rule} onChange={onChange} />}
      {rule.freq === 'monthly' && (
        <NumberField
          label="Months from one run to the next"
          description="Counted from the month of the first date"
          min={1}
          max={EVERY_MONTHS}
          value={rule.every}
          onChange={(every) => onChange({ ...rule, every })}
        />
      )}
      {rule.freq === 'quarterly' && (
        <NativeSelect
          label="In"
          data={OF_QUARTER}
          value={String(rule.month)}
          onChange={(e) => onChange({ ...rule, month: Number(e.currentTarget.value) as 1 | 2 | 3 })}
        />
      )}
      {rule.freq === 'yearly' && (
        <NativeSelect
          label="In"
          data={MONTHS}
          value={String(rule.month)}
          onChange={(e) => onChange({ ...rule, month: Number(e.currentTarget.value) })}
        />
      )}
      {'on' in rule && <DayOfMonth on={rule.on} set={(on) => onChange({ ...rule, on })} />}
      {rule.freq === 'once' && (
        <DateField label="On" value={rule.date} onChange={(date) => onChange({ ...rule, date: date })} />
      )}
    </Stack>
  );
}
