import { NavLink } from 'react-router';

const TABS = [
  { to: '/settings', label: 'Agency' },
  { to: '/settings/mail', label: 'Email' },
  { to: '/settings/services', label: 'Services' },
  { to: '/settings/holidays', label: 'Holidays' },
  { to: '/settings/defaults', label: 'Brand, paper, limits' },
  { to: '/settings/sign-in', label: 'Sign-in' },
  { to: '/sending', label: 'Sending' },
  { to: '/settings/server', label: 'This server' },
];

/** The parts of the settings. */
export function SettingsTabs() {
  return (
    <nav className="tabs" aria-label="Settings">
      {TABS.map(({ to, label }) => (
        <NavLink key={to} to={to} end>
          {label}
        </NavLink>
      ))}
    </nav>
  );
}
