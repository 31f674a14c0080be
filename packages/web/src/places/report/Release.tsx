import type { Report } from '@chronicon/core/contract';
import { Button, Popover, Stack } from '@mantine/core';
import { useState } from 'react';
import { call, type Reply } from '../../api/call.ts';
import { useChange, useGet } from '../../api/hooks.ts';
import { Loading } from '../../parts/Loading.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { StateMark } from '../../parts/StateMark.tsx';
import { momentOf } from '../../parts/when.ts';

type Touched = Reply<'GET /api/reports/:report/release'>['reaches'];

function Lines({ title, lines }: { title: string; lines: Touched }) {
  if (lines.length === 0) return null;
  return (
    <div>
      <b>{title}</b>
      <ul className="plain">
        {lines.map((l) => (
          <li key={l.key} className="small">
            {momentOf(l.at)} · {l.label} <StateMark state={l.state} />
          </li>
        ))}
      </ul>
    </div>
  );
}

/** Makes what is edited what goes out, and says first which editions that reaches, and which it no longer can. */
export function Release({
  report,
  version,
  waits,
  mayRelease,
  onReleased,
}: {
  report: Report;
  /** The version that is saved. */
  version: number;
  /** Something is still being saved. */
  waits: boolean;
  mayRelease: boolean;
  onReleased: () => void;
}) {
  const [open, setOpen] = useState(false);
  const releasing = useGet(
    'GET /api/reports/:report/release',
    { params: { report: report.id } },
    { live: true, keep: true },
  );
  const release = useChange(() =>
    call('POST /api/reports/:report/release', { params: { report: report.id }, body: { version } }),
  );
  const needed = releasing.data?.needed ?? false;
  return (
    <Popover trapFocus returnFocus opened={open} onChange={setOpen} width={380} position="bottom-end">
      <Popover.Target>
        <Button variant={needed || waits ? 'filled' : 'outline'} aria-expanded={open} onClick={() => setOpen(!open)}>
          {needed || waits ? 'Release …' : 'Released'}
        </Button>
      </Popover.Target>
      <Popover.Dropdown aria-label="Release">
        <Stack gap={10}>
          {!releasing.data ? (
            <Loading lines={3} />
          ) : (
            <>
              <span>
                {needed
                  ? 'Release to use this version in editions. Until then the last released version is used.'
                  : 'This version is already in use.'}
              </span>
              <Lines title={needed ? 'Will be used in' : 'In use'} lines={releasing.data.reaches} />
              {releasing.data.reaches.length === 0 && (
                <span className="muted small">No planned edition uses it yet.</span>
              )}
              {needed && <Lines title="Too late for" lines={releasing.data.tooLate} />}
              <Notice error={release.error} />
              {needed && !mayRelease && <span className="muted small">Only a manager or owner can release.</span>}
              {needed && mayRelease && (
                <Button
                  loading={release.isPending || waits}
                  onClick={() =>
                    release.mutate(undefined, {
                      onSuccess: () => {
                        setOpen(false);
                        onReleased();
                      },
                    })
                  }
                >
                  Release it
                </Button>
              )}
            </>
          )}
        </Stack>
      </Popover.Dropdown>
    </Popover>
  );
}
