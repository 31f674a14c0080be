import { agencyRoutes } from './agency.ts';
import { clientRoutes } from './clients.ts';
import { editionRoutes } from './editions.ts';
import { feedRoutes } from './feeds.ts';
import { figuresRoutes } from './figures.ts';
import { metricRoutes } from './metrics.ts';
import { peopleRoutes } from './people.ts';
import { reportRoutes } from './reports.ts';
import { EVERYONE, type Role, type Route } from './route.ts';
import { scheduleRoutes } from './schedules.ts';
import { sendingRoutes } from './sending.ts';
import { targetRoutes } from './targets.ts';

/** Who may do all of this. */
const may = (...routes: Pick<Route, 'roles'>[]): readonly Role[] =>
  EVERYONE.filter((role) => routes.every((d) => d.roles === 'open' || d.roles.includes(role)));

/**
 * What each role may do, in words; each line is read off the routes that it is about, so that it is true. Owners see every
 * client, the others those that they are assigned to.
 */
export const ROLE_TABLE: readonly { label: string; roles: readonly Role[] }[] = [
  {
    label: 'See figures, reports, schedules and editions of their clients',
    roles: may(
      figuresRoutes['GET /api/clients/:client/figures'],
      editionRoutes['GET /api/editions'],
      reportRoutes['GET /api/reports/:report'],
    ),
  },
  { label: 'Write commentary', roles: may(reportRoutes['PUT /api/reports/:report/commentary']) },
  { label: 'Build and change reports', roles: may(reportRoutes['PUT /api/reports/:report']) },
  { label: 'Connect feeds, import data files', roles: may(feedRoutes['POST /api/clients/:client/feeds']) },
  {
    label: 'Set metrics, targets and notes',
    roles: may(
      metricRoutes['POST /api/clients/:client/own-metrics'],
      targetRoutes['POST /api/clients/:client/targets'],
    ),
  },
  {
    label: 'Release reports, start and change schedules',
    roles: may(
      reportRoutes['POST /api/reports/:report/release'],
      scheduleRoutes['POST /api/clients/:client/schedules'],
    ),
  },
  { label: 'Approve, hold and regenerate editions', roles: may(editionRoutes['POST /api/editions/:edition/send']) },
  {
    label: 'Add clients and contacts, set brands',
    roles: may(clientRoutes['POST /api/clients'], clientRoutes['POST /api/clients/:client/contacts']),
  },
  { label: 'Stop all sending', roles: may(sendingRoutes['PUT /api/sending']) },
  { label: 'Hand over their clients', roles: may(peopleRoutes['POST /api/delegations']) },
  { label: 'See every client; invite members, set roles', roles: may(peopleRoutes['POST /api/members']) },
  {
    label: 'Set the agency: mail server, services, holidays, sign-in rules',
    roles: may(
      agencyRoutes['PUT /api/agency'],
      agencyRoutes['PUT /api/agency/mail/:use'],
      agencyRoutes['PUT /api/services/:kind'],
    ),
  },
];
