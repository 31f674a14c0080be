import type { BulkAct, Somebody } from '@chronicon/core/contract';
import { Button, Checkbox, NativeSelect, TextInput } from '@mantine/core';
import { useState } from 'react';
import { DateField } from '../../parts/DateField.tsx';
import { plural } from '../../parts/when.ts';
import { ActPreview } from './ActPreview.tsx';
import { isNamed, NOBODY, SomebodyFields } from './SomebodyFields.tsx';

const ACTS: { value: BulkAct['do']; label: string }[] = [
  { value: 'pause', label: 'Pause' },
  { value: 'resume', label: 'Resume' },
  { value: 'extend', label: 'Extend' },
  { value: 'retime', label: 'Change send time' },
  { value: 'signOff', label: 'Change the approval' },
  { value: 'add', label: 'Add a reader' },
  { value: 'drop', label: 'Remove a reader' },
  { value: 'replace', label: 'Replace a reader' },
  { value: 'make', label: 'Create editions for review' },
  { value: 'end', label: 'End' },
];

/** What is typed in for an act; what an act does not ask for is left alone. */
interface Typed {
  day: string;
  time: string;
  rule: 'none' | 'first' | 'until';
  from: string;
  who: Somebody;
  outside: boolean;
}

/** The act that what is typed in comes to; null while something lacks. */
function actOf(kind: BulkAct['do'], t: Typed): BulkAct | null {
  switch (kind) {
    case 'pause':
      return { do: 'pause', resumesOn: t.day || null };
    case 'extend':
      return { do: 'extend', lastDate: t.day || null };
    case 'retime':
      return { do: 'retime', time: t.time, zone: null };
    case 'signOff':
      if (t.rule === 'until') return { do: 'signOff', signOff: { rule: 'until', until: t.time, asks: null } };
      return { do: 'signOff', signOff: t.rule === 'none' ? { rule: 'none' } : { rule: 'first', asks: null } };
    case 'add':
      return isNamed(t.who) ? { do: 'add', who: t.who } : null;
    case 'drop':
      return t.from.includes('@') ? { do: 'drop', from: t.from.trim() } : null;
    case 'replace':
      return t.from.includes('@') && isNamed(t.who)
        ? { do: 'replace', from: t.from.trim(), who: t.who, left: false, outside: t.outside }
        : null;
    default:
      return { do: kind };
  }
}

/** One thing done with all schedules that are ticked: chosen, seen, done. */
export function ManyActs({ chosen, onDone }: { chosen: readonly string[]; onDone: () => void }) {
  const [kind, setKind] = useState<BulkAct['do']>('pause');
  const [typed, setTyped] = useState<Typed>({
    day: '',
    time: '08:00',
    rule: 'first',
    from: '',
    who: NOBODY,
    outside: false,
  });
  const [asked, setAsked] = useState<BulkAct | null>(null);
  const set = (patch: Partial<Typed>) => {
    setAsked(null);
    setTyped((t) => ({ ...t, ...patch }));
  };
  const act = actOf(kind, typed);
  const label = ACTS.find((a) => a.value === kind)!.label;
  return (
    <div className="stack many-acts">
      <div className="row" style={{ alignItems: 'end' }}>
        <NativeSelect
          label={`With ${plural(chosen.length, 'schedule')}`}
          data={ACTS}
          value={kind}
          onChange={(e) => {
            setAsked(null);
            setKind(e.currentTarget.value as BulkAct['do']);
          }}
        />
        {kind === 'pause' && (
          <DateField
            label="Resume automatically on (optional)"
            value={typed.day}
            onChange={(date) => set({ day: date })}
            optional
          />
        )}
        {kind === 'extend' && (
          <DateField
            label="Last date (empty: no end)"
            value={typed.day}
            onChange={(date) => set({ day: date })}
            optional
          />
        )}
        {kind === 'signOff' && (
          <NativeSelect
            label="Approval"
            data={[
              { value: 'first', label: 'require manager approval' },
              { value: 'until', label: 'ask for approval, then send anyway' },
              { value: 'none', label: 'send automatically' },
            ]}
            value={typed.rule}
            onChange={(e) => set({ rule: e.currentTarget.value as Typed['rule'] })}
          />
        )}
        {(kind === 'retime' || (kind === 'signOff' && typed.rule === 'until')) && (
          <TextInput
            type="time"
            label={kind === 'retime' ? 'At' : 'Until'}
            value={typed.time}
            onChange={(e) => e.currentTarget.value && set({ time: e.currentTarget.value })}
          />
        )}
        {(kind === 'drop' || kind === 'replace') && (
          <TextInput
            type="email"
            label="Current reader: email address"
            value={typed.from}
            onChange={(e) => set({ from: e.currentTarget.value })}
          />
        )}
      </div>
      {(kind === 'add' || kind === 'replace') && <SomebodyFields who={typed.who} onChange={(who) => set({ who })} />}
      {kind === 'replace' && (
        <Checkbox
          checked={typed.outside}
          onChange={(e) => set({ outside: e.currentTarget.checked })}
          label="Allow this address even if it’s outside the client’s usual domains"
        />
      )}
      <div>
        <Button variant="outline" disabled={act === null || chosen.length === 0} onClick={() => setAsked(act)}>
          See what changes
        </Button>
      </div>
      {asked && (
        <ActPreview
          schedules={chosen}
          act={asked}
          label={label}
          onDone={() => {
            setAsked(null);
            onDone();
          }}
          onCancel={() => setAsked(null)}
        />
      )}
    </div>
  );
}
