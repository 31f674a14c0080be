import { Button } from '@mantine/core';
import { useRouteError } from 'react-router';

/** Parts of the interface that are fetched when they are entered are gone once another version is served. */
const isOutdated = (error: unknown): boolean =>
  error instanceof Error && /dynamically imported module|module script failed|Failed to fetch/i.test(error.message);

/** What stands in place of a page that could not be shown: what it was, and the one thing to do. */
export function ErrorPage() {
  const error = useRouteError();
  const outdated = isOutdated(error);
  return (
    <main className="place">
      <h1>{outdated ? 'There is a newer version' : 'This page could not be shown'}</h1>
      <p>
        {outdated
          ? 'The server was brought up to date since this page was opened. Load it again, and go on.'
          : 'Something went wrong in the page itself. What was saved is safe; load it again.'}
      </p>
      <div className="row">
        <Button onClick={() => location.reload()}>Load it again</Button>
        <Button variant="subtle" component="a" href="/">
          Go to the Desk
        </Button>
      </div>
      {!outdated && error instanceof Error && <p className="muted small">{error.message}</p>}
    </main>
  );
}
