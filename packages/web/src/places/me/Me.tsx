import { useGet } from '../../api/hooks.ts';
import { Loading } from '../../parts/Loading.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { PageTitle } from '../../parts/PageTitle.tsx';
import { useSession } from '../../shell/sessionContext.ts';
import { Delegate } from '../people/Delegate.tsx';
import { Factor } from './Factor.tsx';
import { MySettings } from './MySettings.tsx';
import { PasswordForm } from './PasswordForm.tsx';
import { Sessions } from './Sessions.tsx';

/** Oneself: what one is called and told, one's sign-in, and one's clients in a colleague's hands. */
export function Me() {
  const { member } = useSession();
  const me = useGet('GET /api/me');
  const manages = member.role === 'owner' || member.role === 'manager';
  return (
    <main className="place">
      <div className="place-head">
        <PageTitle of={['Your account']} />
        <h1>Your account</h1>
        <span className="muted small">
          {member.email} · {member.role}
        </span>
      </div>
      <Notice error={me.error} />
      {!me.data ? (
        !me.error && <Loading />
      ) : (
        <div className="columns even">
          <div className="stack">
            <MySettings me={me.data} />
            {manages && <Delegate />}
            <Sessions idleHours={me.data.idleHours} />
          </div>
          <div className="stack">
            <Factor me={me.data} />
            <PasswordForm least={me.data.least} />
          </div>
        </div>
      )}
    </main>
  );
}
