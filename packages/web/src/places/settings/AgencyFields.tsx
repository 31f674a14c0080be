import type { AgencyInput } from '@chronicon/core/contract';
import { Chip, Group, Input, NativeSelect, Select, Textarea, TextInput } from '@mantine/core';
import { fieldError } from '../../parts/Notice.tsx';

const ZONES = Intl.supportedValuesOf('timeZone');
const DAYS = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday'];

/** The fields of these that tell their own faults. */
export const AGENCY_FIELDS = ['name', 'zone', 'language', 'weekStart', 'workingDays', 'mailFrom', 'postalAddress'];

interface Props {
  input: AgencyInput;
  languages: readonly { value: string; label: string }[];
  error: unknown;
  onChange: (patch: Partial<AgencyInput>) => void;
}

/** What an agency says of itself. */
export function AgencyFields({ input, languages, error, onChange }: Props) {
  return (
    <>
      <TextInput
        label="Name"
        description="Shown in reports and emails"
        value={input.name}
        onChange={(e) => onChange({ name: e.currentTarget.value })}
        error={fieldError(error, 'name')}
      />
      <TextInput
        label="Sender address"
        description="Replies go to each client’s manager"
        type="email"
        value={input.mailFrom}
        onChange={(e) => onChange({ mailFrom: e.currentTarget.value })}
        error={fieldError(error, 'mailFrom')}
      />
      <Textarea
        label="Postal address"
        description="Shown at the bottom of every email. Optional"
        autosize
        minRows={2}
        maxRows={5}
        value={input.postalAddress ?? ''}
        onChange={(e) => onChange({ postalAddress: e.currentTarget.value })}
        error={fieldError(error, 'postalAddress')}
      />
      <div className="field-pairs">
        <Select
          label="Time zone"
          searchable
          data={ZONES}
          value={input.zone}
          onChange={(zone) => zone && onChange({ zone })}
          error={fieldError(error, 'zone')}
        />
        <NativeSelect
          label="Language of most reports"
          data={[...languages]}
          value={input.language}
          onChange={(e) => onChange({ language: e.currentTarget.value })}
          error={fieldError(error, 'language')}
        />
      </div>
      <NativeSelect
        label="First day of the week"
        data={DAYS.map((label, i) => ({ value: String(i + 1), label }))}
        value={String(input.weekStart)}
        onChange={(e) => onChange({ weekStart: Number(e.currentTarget.value) })}
      />
      <Input.Wrapper label="Working days" labelElement="div" error={fieldError(error, 'workingDays')}>
        <Chip.Group
          multiple
          value={input.workingDays.map(String)}
          onChange={(days) => onChange({ workingDays: days.map(Number).sort() })}
        >
          <Group gap={6}>
            {DAYS.map((label, i) => (
              <Chip key={label} value={String(i + 1)} size="xs">
                {label}
              </Chip>
            ))}
          </Group>
        </Chip.Group>
      </Input.Wrapper>
    </>
  );
}
