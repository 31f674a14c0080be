import { Button, Menu, Modal } from '@mantine/core';
import { memo, useState } from 'react';
import { Link } from 'react-router';
import { useSession } from '../../shell/sessionContext.ts';
import { CloneReport } from './CloneReport.tsx';
import { KeepVersion } from './KeepVersion.tsx';
import { MakeTemplate } from './MakeTemplate.tsx';
import type { ActProps } from './settleFirst.ts';
import { TakeIntoTemplate } from './TakeIntoTemplate.tsx';

interface Props extends ActProps {
  look: string | null;
}

type Open = 'keep' | 'template' | 'take' | 'clone';

const TITLES: Record<Open, string> = {
  keep: 'Keep this version',
  template: 'Save as template',
  take: 'Update template',
  clone: 'Copy to other clients',
};

/** What can be done with a report beside sending it: versions, templates, other clients. */
export const MoreActs = memo(function MoreActs(props: Props) {
  const { report, look } = props;
  const { member } = useSession();
  const mayMake = member.role !== 'reviewer';
  const [open, setOpen] = useState<Open | null>(null);
  const [said, setSaid] = useState('');
  const done = (words: string) => {
    setOpen(null);
    setSaid(words);
  };
  return (
    <>
      {said !== '' && (
        <span className="small tone-good" role="status">
          {said}
        </span>
      )}
      <Menu width={260} position="bottom-end">
        <Menu.Target>
          <Button variant="subtle" size="compact-sm">
            More
          </Button>
        </Menu.Target>
        <Menu.Dropdown>
          {mayMake && <Menu.Item onClick={() => setOpen('keep')}>{TITLES.keep}</Menu.Item>}
          <Menu.Item component={Link} to={`/reports/${report.id}/versions${look ? `?look=${look}` : ''}`}>
            Versions
          </Menu.Item>
          <Menu.Divider />
          {report.template && (
            <>
              <Menu.Item disabled={!mayMake} onClick={() => setOpen('take')}>
                Update template “{report.template.name}”
              </Menu.Item>
              <Menu.Item component={Link} to={`/templates/${report.template.id}`}>
                View linked reports
              </Menu.Item>
            </>
          )}
          {mayMake && !report.template && <Menu.Item onClick={() => setOpen('template')}>{TITLES.template}</Menu.Item>}
          {mayMake && <Menu.Item onClick={() => setOpen('clone')}>{TITLES.clone}</Menu.Item>}
        </Menu.Dropdown>
      </Menu>
      <Modal opened={open !== null} onClose={() => setOpen(null)} title={open ? TITLES[open] : ''} centered>
        {open === 'keep' && <KeepVersion {...props} onDone={done} />}
        {open === 'template' && <MakeTemplate {...props} onDone={done} />}
        {open === 'take' && <TakeIntoTemplate {...props} onDone={done} />}
        {open === 'clone' && <CloneReport {...props} />}
      </Modal>
    </>
  );
});
