import { createBrowserRouter } from 'react-router';
import { NoSuchPage } from './parts/NoSuchPage.tsx';
import { Desk } from './places/desk/Desk.tsx';
import { ErrorPage } from './shell/ErrorPage.tsx';
import { Shell } from './shell/Shell.tsx';

/** Places beyond the Desk come when they are entered. */
export const router = createBrowserRouter([
  {
    element: <Shell />,
    errorElement: <ErrorPage />,
    children: [
      {
        // Within the frame, so that one can go elsewhere.
        errorElement: <ErrorPage />,
        children: [
          { path: '/', element: <Desk /> },
          {
            path: '/clients',
            lazy: async () => ({ Component: (await import('./places/clients/Clients.tsx')).Clients }),
          },
          {
            path: '/clients/new',
            lazy: async () => ({ Component: (await import('./places/clients/NewClient.tsx')).NewClient }),
          },
          {
            path: '/clients/import',
            lazy: async () => ({ Component: (await import('./places/clients/ImportClients.tsx')).ImportClients }),
          },
          {
            path: '/clients/:client/:part?',
            lazy: async () => ({ Component: (await import('./places/client/Client.tsx')).Client }),
          },
          {
            path: '/clients/:client/imports/:import',
            lazy: async () => ({ Component: (await import('./places/files/ImportPlace.tsx')).ImportPlace }),
          },
          {
            path: '/clients/:client/typed/:feed',
            lazy: async () => ({ Component: (await import('./places/typed/TypedPlace.tsx')).TypedPlace }),
          },
          {
            path: '/connect',
            lazy: async () => ({ Component: (await import('./places/connect/Connect.tsx')).Connect }),
          },
          {
            path: '/connect/back',
            lazy: async () => ({ Component: (await import('./places/connect/ConnectBack.tsx')).ConnectBack }),
          },
          {
            path: '/clients/:client/schedules/new',
            lazy: async () => ({ Component: (await import('./places/schedule/NewSchedule.tsx')).NewSchedule }),
          },
          {
            path: '/schedules/:schedule',
            lazy: async () => ({ Component: (await import('./places/schedule/EditSchedule.tsx')).EditSchedule }),
          },
          {
            path: '/reports/:report',
            lazy: async () => ({ Component: (await import('./places/report/Report.tsx')).Report }),
          },
          {
            path: '/reports/:report/versions',
            lazy: async () => ({ Component: (await import('./places/report/Versions.tsx')).Versions }),
          },
          {
            path: '/templates',
            lazy: async () => ({ Component: (await import('./places/templates/Templates.tsx')).Templates }),
          },
          {
            path: '/templates/:template',
            lazy: async () => ({ Component: (await import('./places/templates/Template.tsx')).Template }),
          },
          {
            path: '/figures',
            lazy: async () => ({ Component: (await import('./places/figures/Figures.tsx')).Figures }),
          },
          {
            path: '/editions/:edition',
            lazy: async () => ({ Component: (await import('./places/edition/EditionPlace.tsx')).EditionPlace }),
          },
          {
            path: '/me',
            lazy: async () => ({ Component: (await import('./places/me/Me.tsx')).Me }),
          },
          {
            path: '/settings/:part?',
            lazy: async () => ({ Component: (await import('./places/settings/Settings.tsx')).Settings }),
          },
          {
            path: '/people',
            lazy: async () => ({ Component: (await import('./places/people/People.tsx')).People }),
          },
          {
            path: '/start/mail',
            lazy: async () => ({ Component: (await import('./places/first/FirstMail.tsx')).FirstMail }),
          },
          {
            path: '/sending',
            lazy: async () => ({ Component: (await import('./places/sending/Sending.tsx')).Sending }),
          },
          {
            path: '/gallery',
            lazy: async () => ({ Component: (await import('./places/gallery/Gallery.tsx')).Gallery }),
          },
          {
            path: '/almanac',
            lazy: async () => ({ Component: (await import('./places/almanac/Almanac.tsx')).Almanac }),
          },
          {
            path: '/almanac/schedules',
            lazy: async () => ({ Component: (await import('./places/almanac/AllSchedules.tsx')).AllSchedules }),
          },
          {
            path: '/almanac/ahead',
            lazy: async () => ({ Component: (await import('./places/almanac/Ahead.tsx')).Ahead }),
          },
          {
            path: '/almanac/zones',
            lazy: async () => ({ Component: (await import('./places/almanac/ZoneMoves.tsx')).ZoneMoves }),
          },
          {
            path: '/almanac/readers',
            lazy: async () => ({ Component: (await import('./places/almanac/Readers.tsx')).Readers }),
          },
          {
            path: '/archive',
            lazy: async () => ({ Component: (await import('./places/archive/Archive.tsx')).Archive }),
          },
          {
            path: '*',
            element: <NoSuchPage />,
          },
        ],
      },
    ],
  },
]);
