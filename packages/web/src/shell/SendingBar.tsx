import { Link } from 'react-router';
import { useGet } from '../api/hooks.ts';

/** While no mail goes out, every screen says so, and why. */
export function SendingBar() {
  const sending = useGet('GET /api/sending', {}, { live: true });
  const [stop] = sending.data?.stops ?? [];
  if (!stop) return null;
  return (
    <div className="sending-bar" role="status">
      <b>Sending is stopped.</b> {stop.reason} <Link to="/sending">View sending</Link>
    </div>
  );
}
