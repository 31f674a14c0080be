import type { ScheduleInput } from '@chronicon/core/contract';
import { Button } from '@mantine/core';
import { Notice } from '../../parts/Notice.tsx';
import { plural } from '../../parts/when.ts';
import type { Gap } from './useFilterGaps.ts';

interface Props {
  gaps: readonly Gap[];
  input: ScheduleInput;
  onChange: (patch: Partial<ScheduleInput>) => void;
}

/** The blocks of the report that the filter cannot apply to, each with the way to leave it out of this schedule. */
export function FilterGaps({ gaps, input, onChange }: Props) {
  const { leftOut } = input;
  const open = gaps.filter((g) => !leftOut.includes(g.block));
  const out = gaps.filter((g) => leftOut.includes(g.block));
  // What was left out and could be counted after all, or stands under another report.
  const others = leftOut.filter((id) => !gaps.some((g) => g.block === id));
  const leaveOut = (ids: readonly string[]) => onChange({ leftOut: [...new Set([...leftOut, ...ids])] });
  const putBack = (id: string) => onChange({ leftOut: leftOut.filter((x) => x !== id) });
  if (open.length + out.length + others.length === 0) return null;
  return (
    <section className="stack" aria-label="Blocks that can’t be filtered">
      {open.length > 0 && (
        <Notice>
          <b>The filter can’t apply to {plural(open.length, 'block')} of this report.</b>
          <ul className="plain">
            {open.map((g) => (
              <li key={g.block} className="small">
                {g.name} <span className="muted">on “{g.page}”</span>. {g.why}{' '}
                {open.length > 1 && (
                  <Button size="compact-xs" variant="default" onClick={() => leaveOut([g.block])}>
                    Hide
                  </Button>
                )}
              </li>
            ))}
          </ul>
          <Button size="compact-sm" onClick={() => leaveOut(open.map((g) => g.block))}>
            {open.length === 1 ? 'Hide in this schedule' : 'Hide all in this schedule'}
          </Button>
        </Notice>
      )}
      {out.map((g) => (
        <div key={g.block} className="row small">
          <span>
            Hidden in this schedule: {g.name} <span className="muted">on “{g.page}”</span>
          </span>
          <Button size="compact-xs" variant="subtle" onClick={() => putBack(g.block)}>
            Show again
          </Button>
        </div>
      ))}
      {others.length > 0 && (
        <div className="row small">
          <span>
            {plural(others.length, 'more block')} of the report {others.length === 1 ? 'is' : 'are'} hidden.
          </span>
          <Button
            size="compact-xs"
            variant="subtle"
            onClick={() => onChange({ leftOut: leftOut.filter((id) => !others.includes(id)) })}
          >
            Show {others.length === 1 ? 'it' : 'them'} again
          </Button>
        </div>
      )}
    </section>
  );
}
