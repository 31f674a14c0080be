import { Button } from '@mantine/core';
import { memo } from 'react';

/** What can be done with the blocks that are chosen, whatever they are; each has its keys. */
export const ACTS = [
  { key: 'up', label: 'Up', keys: 'Alt ↑' },
  { key: 'down', label: 'Down', keys: 'Alt ↓' },
  { key: 'left', label: 'Left', keys: 'Alt ←' },
  { key: 'right', label: 'Right', keys: 'Alt →' },
  { key: 'narrower', label: 'Narrower', keys: 'Alt Shift ←' },
  { key: 'wider', label: 'Wider', keys: 'Alt Shift →' },
  { key: 'pageBack', label: 'To the previous page', keys: 'Alt PgUp' },
  { key: 'pageOn', label: 'To the next page', keys: 'Alt PgDn' },
  { key: 'duplicate', label: 'Duplicate', keys: 'Ctrl D' },
  { key: 'copy', label: 'Copy', keys: 'Ctrl C' },
  { key: 'remove', label: 'Remove', keys: 'Del' },
] as const;
export type Act = (typeof ACTS)[number]['key'];

/** The same acts as buttons. */
export const BlockActs = memo(function BlockActs({ onAct }: { onAct: (act: Act) => void }) {
  return (
    <fieldset className="acts-of-block" aria-label="Actions">
      {ACTS.map(({ key, label, keys }) => (
        <Button
          key={key}
          size="compact-sm"
          variant={key === 'remove' ? 'subtle' : 'default'}
          {...(key === 'remove' && { color: 'red' })}
          title={keys}
          onClick={() => onAct(key)}
        >
          {label}
        </Button>
      ))}
    </fieldset>
  );
});
