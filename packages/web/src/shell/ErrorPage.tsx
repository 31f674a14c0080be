import { Button } from '@mantine/core';
import { useRouteError } from 'react-router';
import { PageTitle } from '../parts/PageTitle.tsx';

/** Parts of the interface that are fetched when they are entered are gone once another version is served. */
const isOutdated = (error: unknown): boolean =>
  error instanceof Error && /dynamically imported module|module script failed|Failed to fetch/i.test(error.message);

/** What stands in place of a page that could not be shown: what it was, and the one thing to do. */
export function ErrorPage() {
  const error = useRouteError();
  const outdated = isOutdated(error);
  return (
    <main className="place">
      <PageTitle of={[outdated ? 'Update available' : 'This page didn’t load']} />
      <h1>{outdated ? 'Update available' : 'This page didn’t load'}</h1>
      <p>
        {outdated
          ? 'Chronicon was updated. Reload to continue.'
          : 'Something went wrong. Saved work is safe; reload the page.'}
      </p>
      <div className="row">
        <Button onClick={() => location.reload()}>Reload</Button>
        <Button variant="subtle" component="a" href="/">
          Go to Desk
        </Button>
      </div>
      {!outdated && error instanceof Error && <p className="muted small">{error.message}</p>}
    </main>
  );
}
