import type { Somebody } from '@chronicon/core/contract';
import { NativeSelect, TextInput } from '@mantine/core';
import { useGet } from '../../api/hooks.ts';

interface Props {
  who: Somebody;
  onChange: (who: Somebody) => void;
}

export const NOBODY: Somebody = { email: '', firstName: '', lastName: '' };

/** Whether somebody is named well enough to be asked about. */
export const isNamed = (who: Somebody): boolean =>
  'member' in who ? who.member !== '' : /.+@.+\..+/.test(who.email) && who.firstName.trim() !== '';

/** A person at the clients, by name and address; or a member. */
export function SomebodyFields({ who, onChange }: Props) {
  const colleagues = useGet('GET /api/colleagues').data ?? [];
  const person = 'member' in who ? NOBODY : who;
  return (
    <div className="row" style={{ alignItems: 'end' }}>
      <NativeSelect
        label="Who"
        data={[
          { value: '', label: 'a person at the client' },
          ...colleagues.map((m) => ({ value: m.id, label: m.name })),
        ]}
        value={'member' in who ? who.member : ''}
        onChange={(e) => onChange(e.currentTarget.value === '' ? NOBODY : { member: e.currentTarget.value })}
      />
      {!('member' in who) && !('member' in person) && (
        <>
          <TextInput
            label="First name"
            value={person.firstName}
            onChange={(e) => onChange({ ...person, firstName: e.currentTarget.value })}
          />
          <TextInput
            label="Last name"
            value={person.lastName}
            onChange={(e) => onChange({ ...person, lastName: e.currentTarget.value })}
          />
          <TextInput
            type="email"
            label="Email address"
            value={person.email}
            onChange={(e) => onChange({ ...person, email: e.currentTarget.value.trim() })}
          />
        </>
      )}
    </div>
  );
}
