import { SESSION } from '@chronicon/core/bounds';
import { ROLES, type Role } from '@chronicon/core/contract/display';
import { Checkbox } from '@mantine/core';
import { type FormEvent, useState } from 'react';
import { call } from '../../api/call.ts';
import { useChange } from '../../api/hooks.ts';
import { FormEnd } from '../../parts/FormEnd.tsx';
import { NumberField } from '../../parts/NumberField.tsx';
import { Unsaved } from '../../parts/Unsaved.tsx';
import { useSession } from '../../shell/sessionContext.ts';
import type { PartProps } from './part.ts';
import { Saved } from './Saved.tsx';

/** Sign-in rules. */
export function SignInPart({ data, mayChange }: PartProps) {
  const { member } = useSession();
  const kept = data.settings.signIn;
  const [rules, setRules] = useState(kept);
  const changed = JSON.stringify(rules) !== JSON.stringify(kept);
  const save = useChange(() => call('PUT /api/agency/sign-in', { body: rules }));
  const set = (patch: Partial<typeof rules>) => setRules((r) => ({ ...r, ...patch }));
  const submit = (e: FormEvent) => {
    e.preventDefault();
    save.mutate();
  };
  const hitsOneself = rules.secondFactor.includes(member.role) && !kept.secondFactor.includes(member.role);
  return (
    <form className="card stack settings-form" onSubmit={submit} noValidate>
      <h2>Sign-in rules</h2>
      <Unsaved when={changed && !save.isPending} what="the changed rules" />
      <fieldset className="stack bare" disabled={!mayChange}>
        <Checkbox.Group
          label="Require two-factor for"
          description="They must set it up before continuing"
          value={rules.secondFactor}
          onChange={(roles) => set({ secondFactor: roles as Role[] })}
        >
          <div className="row" style={{ marginTop: 8 }}>
            {ROLES.map((role) => (
              <Checkbox key={role} value={role} label={`Every ${role}`} />
            ))}
          </div>
        </Checkbox.Group>
        {hitsOneself && (
          <p className="note small">You’ll be asked to set it up too, if you haven’t: keep your phone at hand.</p>
        )}
        <div className="field-pairs">
          <NumberField
            label="Sign out after inactivity (hours)"
            min={1}
            max={SESSION.idleHours}
            value={rules.idleHours}
            onChange={(idleHours) => set({ idleHours })}
          />
          <NumberField
            label="Maximum session length (days)"
            min={1}
            max={SESSION.longestDays}
            value={rules.longestDays}
            onChange={(longestDays) => set({ longestDays })}
          />
        </div>
      </fieldset>
      <p className="muted small">
        Passwords need at least 15 characters (8 with two-factor) and must be hard to guess.
      </p>
      {mayChange && (
        <FormEnd
          error={save.error}
          fields={[]}
          pending={save.isPending}
          disabled={!changed}
          onCancel={changed ? () => setRules(kept) : undefined}
        />
      )}
      <Saved when={save.isSuccess && !changed} />
    </form>
  );
}
