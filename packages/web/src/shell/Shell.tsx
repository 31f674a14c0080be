import { Avatar, Menu, Select, UnstyledButton, useComputedColorScheme, useMantineColorScheme } from '@mantine/core';
import { useQueryClient } from '@tanstack/react-query';
import { useMemo, useState } from 'react';
import { Link, NavLink, Outlet, useLocation, useNavigate } from 'react-router';
import { call } from '../api/call.ts';
import { useChanges, useGet } from '../api/hooks.ts';
import { useClientNames } from '../parts/useClientNames.ts';
import { zoneWords } from '../parts/when.ts';
import { DemoClock } from './DemoClock.tsx';
import { SendingBar } from './SendingBar.tsx';
import { PlaceScope, useGroupScope, useScope } from './scope.ts';
import { useSession } from './sessionContext.ts';

const PLACES = [
  { to: '/', label: 'Desk' },
  { to: '/almanac', label: 'Almanac' },
  { to: '/clients', label: 'Clients' },
  { to: '/archive', label: 'Archive' },
  { to: '/figures', label: 'Figures' },
  { to: '/templates', label: 'Templates' },
];

function MemberMenu() {
  const { member, demo } = useSession();
  const client = useQueryClient();
  const { setColorScheme } = useMantineColorScheme();
  const shown = useComputedColorScheme('light');
  // What is chosen is the member's, in whatever browser they sign in next.
  const turn = async (scheme: 'light' | 'dark') => {
    setColorScheme(scheme);
    const { name, settings } = await call('GET /api/me');
    await call('PUT /api/me', { body: { ...settings, name, scheme } });
    await client.invalidateQueries({ queryKey: ['GET /api/session'] });
  };
  const initials = member.name
    .split(' ')
    .map((n) => n[0])
    .join('');
  return (
    <Menu position="bottom-end" width={220}>
      <Menu.Target>
        <UnstyledButton aria-label={`${initials}: ${member.name}, ${member.role}`}>
          <Avatar color="petrol" variant="filled" size={32}>
            {initials}
          </Avatar>
        </UnstyledButton>
      </Menu.Target>
      <Menu.Dropdown>
        <Menu.Label>
          {member.name} · {member.role}
        </Menu.Label>
        {demo && (
          <Menu.Item component="a" href={demo.mailbox} target="_blank" rel="noreferrer">
            Open the mailbox
          </Menu.Item>
        )}
        {demo && (
          <Menu.Item component="a" href={demo.services} target="_blank" rel="noreferrer">
            Simulated services
          </Menu.Item>
        )}
        {(member.role === 'owner' || member.role === 'manager') && (
          <Menu.Item component={Link} to="/settings">
            Settings
          </Menu.Item>
        )}
        {member.role === 'owner' && (
          <Menu.Item component={Link} to="/people">
            People
          </Menu.Item>
        )}
        <Menu.Item component={Link} to="/sending">
          Sending
        </Menu.Item>
        <Menu.Item component={Link} to="/me">
          Your account
        </Menu.Item>
        <Menu.Item onClick={() => turn(shown === 'dark' ? 'light' : 'dark')}>
          {shown === 'dark' ? 'Light theme' : 'Dark theme'}
        </Menu.Item>
        <Menu.Item onClick={() => call('DELETE /api/session').then(() => client.resetQueries())}>Sign out</Menu.Item>
      </Menu.Dropdown>
    </Menu>
  );
}

const EVERYBODY = 'All clients';
const MINE = 'Clients I manage';

/** The frame of every place: mark, scope, places, member. The scope stays when the place changes. */
export function Shell() {
  const [said, say] = useState<string | null>(null);
  const place = useMemo(() => ({ client: said, say }), [said]);
  return (
    <PlaceScope value={place}>
      <Frame />
    </PlaceScope>
  );
}

function Frame() {
  const { demo, zone } = useSession();
  useChanges();
  const navigate = useNavigate();
  const { pathname, search } = useLocation();
  const scope = useScope();
  const group = useGroupScope();
  const names = useClientNames({ ids: scope ? [scope] : [] });
  const groups = useGet('GET /api/clients/scopes', {}, { live: true });
  const { tags = [], mine = 0 } = groups.data ?? {};
  const choices = [
    { value: '', label: EVERYBODY },
    ...(mine > 0 || group === 'mine' ? [{ value: 'mine', label: MINE }] : []),
    ...(tags.length > 0 ? [{ group: 'Tags', items: tags.map((t) => ({ value: `tag:${t}`, label: t })) }] : []),
    { group: 'Clients', items: names.clients.map((c) => ({ value: c.id, label: c.name })) },
  ];
  const toScope = (chosen: string | null) => {
    const several = chosen === 'mine' || chosen?.startsWith('tag:');
    if (several) {
      const to = [
        '/',
        '/almanac',
        '/almanac/schedules',
        '/almanac/ahead',
        '/almanac/readers',
        '/archive',
        '/figures',
      ].includes(pathname)
        ? pathname
        : '/clients';
      navigate(`${to}?scope=${encodeURIComponent(chosen!)}`);
      return;
    }
    const id = chosen;
    if (
      pathname.startsWith('/clients') ||
      pathname.startsWith('/reports') ||
      pathname.startsWith('/schedules') ||
      pathname.startsWith('/editions') ||
      pathname.startsWith('/templates')
    ) {
      navigate(id ? `/clients/${id}` : '/clients');
    } else if (pathname === '/figures' && id) {
      // The same question of another client.
      const kept = new URLSearchParams(search);
      kept.set('client', id);
      for (const key of ['of', 'filter']) kept.delete(key);
      navigate(`${pathname}?${kept}`);
    } else navigate(id ? `${pathname}?client=${id}` : pathname);
  };
  const hrefOf = (to: string) => {
    // Templates are of no client.
    if (to === '/templates') return to;
    if (!scope) return group === '' ? to : `${to}?scope=${encodeURIComponent(group)}`;
    return to === '/clients' ? `/clients/${scope}` : `${to}?client=${scope}`;
  };
  return (
    <>
      <header className="bar">
        <NavLink to="/" aria-label="Desk">
          <img src="/mark.svg" width="28" height="28" alt="Chronicon" style={{ display: 'block' }} />
        </NavLink>
        <Select
          className="scope"
          aria-label="Scope"
          searchable
          data={choices}
          value={scope ?? group}
          onChange={toScope}
          onSearchChange={(said) => names.search(said, [EVERYBODY, MINE, ...tags])}
          // Whoever begins to type looks for another one.
          onFocus={(e) => e.currentTarget.select()}
          nothingFoundMessage="No client has this name"
        />
        <nav aria-label="Places">
          {PLACES.map((p) => (
            <NavLink key={p.to} to={hrefOf(p.to)} end={p.to === '/'}>
              {p.label}
            </NavLink>
          ))}
        </nav>
        <div className="rest">
          {demo && <DemoClock />}
          <span className="muted small clock">{zoneWords(zone)}</span>
          <MemberMenu />
        </div>
      </header>
      <SendingBar />
      <Outlet />
    </>
  );
}
