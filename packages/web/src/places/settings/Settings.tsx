import type { ComponentType } from 'react';
import { useParams } from 'react-router';
import { useGet } from '../../api/hooks.ts';
import { Loading } from '../../parts/Loading.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { PageTitle } from '../../parts/PageTitle.tsx';
import { useSession } from '../../shell/sessionContext.ts';
import { AgencyPart } from './AgencyPart.tsx';
import { DefaultsPart } from './DefaultsPart.tsx';
import { HolidaysPart } from './HolidaysPart.tsx';
import { MailPart } from './MailPart.tsx';
import type { PartProps } from './part.ts';
import { ServerPart } from './ServerPart.tsx';
import { ServicesPart } from './ServicesPart.tsx';
import { nameOfPart, SettingsTabs } from './SettingsTabs.tsx';
import { SignInPart } from './SignInPart.tsx';

const PARTS: Record<string, ComponentType<PartProps>> = {
  '': AgencyPart,
  mail: MailPart,
  services: ServicesPart,
  holidays: HolidaysPart,
  defaults: DefaultsPart,
  'sign-in': SignInPart,
  server: ServerPart,
};

/** What is set for the agency, in one place. */
export function Settings() {
  const { member } = useSession();
  const { part = '' } = useParams();
  const agency = useGet('GET /api/agency');
  const View = PARTS[part] ?? AgencyPart;
  const mayChange = member.role === 'owner';
  return (
    <main className="place">
      <div className="place-head">
        <PageTitle of={[nameOfPart(part), 'Settings']} />
        <h1>Settings</h1>
        {!mayChange && <span className="muted small">Only an owner can change them.</span>}
      </div>
      <SettingsTabs />
      <Notice error={agency.error} />
      {agency.data ? <View key={part} data={agency.data} mayChange={mayChange} /> : !agency.error && <Loading />}
    </main>
  );
}
