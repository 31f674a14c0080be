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

/** What a part of the settings is called; the first one where there is none of this name. */
export const nameOfPart = (part: string): string => (TABS.find((t) => t.to === `/settings/${part}`) ?? TABS[0]!).label;

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
