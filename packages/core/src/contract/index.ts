import { agencyRoutes } from './agency.ts';
import { blockRoutes } from './blocks.ts';
import { clientRoutes } from './clients.ts';
import { connectionRoutes } from './connections.ts';
import { deskRoutes } from './desk.ts';
import { editionRoutes } from './editions.ts';
import { excludedDaysRoutes } from './excludedDays.ts';
import { feedRoutes } from './feeds.ts';
import { figuresRoutes } from './figures.ts';
import { firstRoutes } from './first.ts';
import { galleryRoutes } from './gallery.ts';
import { importRoutes } from './imports.ts';
import { linkRoutes } from './links.ts';
import { mailRoutes } from './mails.ts';
import { meRoutes } from './me.ts';
import { metricRoutes } from './metrics.ts';
import { peopleRoutes } from './people.ts';
import { planningRoutes } from './planning.ts';
import { reportRoutes } from './reports.ts';
import { scheduleRoutes } from './schedules.ts';
import { segmentRoutes } from './segments.ts';
import { sendingRoutes } from './sending.ts';
import { sessionRoutes } from './session.ts';
import { targetRoutes } from './targets.ts';
import { templateRoutes } from './templates.ts';
import { typedRoutes } from './typed.ts';
import { typefaceRoutes } from './typefaces.ts';

export { PICTURE } from '../bounds/index.ts';
export { BRAND_PICTURES, type BrandPicture } from '../report/brand.ts';
export * from './agency.ts';
export * from './blocks.ts';
export * from './clients.ts';
export * from './connections.ts';
export * from './desk.ts';
export * from './editions.ts';
export * from './feeds.ts';
export * from './figures.ts';
export * from './figuresText.ts';
export type { FirstInput } from './first.ts';
export * from './gallery.ts';
export * from './imports.ts';
export * from './mails.ts';
export { type MemberSettings, memberSettings, type SessionRow } from './me.ts';
export * from './metrics.ts';
export * from './people.ts';
export * from './planning.ts';
export * from './reports.ts';
export * from './roleTable.ts';
export * from './route.ts';
export * from './schedules.ts';
export * from './segments.ts';
export * from './sending.ts';
export * from './stateLabels.ts';
export * from './targets.ts';
export * from './templates.ts';
export * from './typed.ts';
export * from './typefaces.ts';

/** Every route of the API, by method and path. */
export const routes = {
  ...sessionRoutes,
  ...meRoutes,
  ...firstRoutes,
  ...agencyRoutes,
  ...peopleRoutes,
  ...linkRoutes,
  ...clientRoutes,
  ...connectionRoutes,
  ...feedRoutes,
  ...importRoutes,
  ...typedRoutes,
  ...typefaceRoutes,
  ...figuresRoutes,
  ...metricRoutes,
  ...excludedDaysRoutes,
  ...targetRoutes,
  ...segmentRoutes,
  ...blockRoutes,
  ...galleryRoutes,
  ...reportRoutes,
  ...templateRoutes,
  // Before those of one schedule: `many` is no schedule’s id.
  ...planningRoutes,
  ...mailRoutes,
  ...scheduleRoutes,
  ...editionRoutes,
  ...deskRoutes,
  ...sendingRoutes,
};

export type Routes = typeof routes;
export type RouteName = keyof Routes;

/** Routes whose bodies are files, not JSON: named here for the role table, served beside the others. */
export const FILE_ROUTES = {
  'PUT /api/clients/:client/logo': 'makers',
  'PUT /api/agency/logo': 'owners',
  'GET /api/agency/pictures/:file': 'everyone',
  'PUT /api/typefaces': 'makers',
  'GET /api/typefaces/:file': 'everyone',
  'PUT /api/clients/:client/pictures': 'makers',
  'GET /api/editions/:edition/pdf': 'everyone',
  'GET /api/reports/:report/pdf': 'everyone',
  'GET /api/clients/:client/pictures/:file': 'everyone',
  'GET /api/clients/:client/figures/table': 'everyone',
  'PUT /api/clients/:client/mail-files': 'makers',
  'GET /api/deliveries/:delivery/mail': 'everyone',
  'GET /api/agency/unread-mails/:mail': 'owners',
  'PUT /api/clients/:client/imports': 'makers',
  'GET /api/clients/:client/imports/:import/rejects': 'everyone',
  /** The key in the address is all that is asked for: for programs that put files by themselves. */
  'PUT /api/drop/:key/:name': 'secret',
  'GET /api/look-ahead/table': 'everyone',
  /** The secret in the address is all that is asked for: for programs that show calendars. */
  'GET /api/calendar/:key': 'secret',
  'GET /api/openapi.json': 'everyone',
} as const;
