import { useSession } from '../../shell/session.tsx';
import { PasswordForm } from './PasswordForm.tsx';
import { Sessions } from './Sessions.tsx';

/** One's own sign-in. */
export function Me() {
  const { member } = useSession();
  return (
    <main className="place">
      <div className="place-head">
        <h1>Your sign-in</h1>
        <span className="muted small">
          {member.name} · {member.email} · {member.role}
        </span>
      </div>
      <div className="columns">
        <Sessions />
        <PasswordForm />
      </div>
    </main>
  );
}
