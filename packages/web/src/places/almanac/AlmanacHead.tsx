import type { ReactNode } from 'react';
import { NavLink, useSearchParams } from 'react-router';
import { PageTitle } from '../../parts/PageTitle.tsx';

const VIEWS = [
  { to: '/almanac', label: 'Calendar' },
  { to: '/almanac/schedules', label: 'All schedules' },
  { to: '/almanac/ahead', label: 'Look ahead' },
  { to: '/almanac/readers', label: 'Who gets what' },
];

/** The head of the views of what will go out; the scope stays from one to the other. */
export function AlmanacHead({ title, children }: { title: string; children?: ReactNode }) {
  const [search] = useSearchParams();
  const kept = new URLSearchParams();
  for (const key of ['client', 'scope']) {
    const value = search.get(key);
    if (value) kept.set(key, value);
  }
  const query = kept.size > 0 ? `?${kept}` : '';
  return (
    <>
      <div className="place-head">
        <PageTitle of={[title]} />
        <h1>{title}</h1>
        <nav className="views" aria-label="Views of the Almanac">
          {VIEWS.map((v) => (
            <NavLink key={v.to} to={`${v.to}${query}`} end>
              {v.label}
            </NavLink>
          ))}
        </nav>
      </div>
      {children}
    </>
  );
}
