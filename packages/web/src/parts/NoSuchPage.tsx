import { Link } from 'react-router';
import { PageTitle } from './PageTitle.tsx';

/** What stands at an address that leads nowhere. */
export const NoSuchPage = () => (
  <main className="place">
    <PageTitle of={['Page not found']} />
    <h1>Page not found</h1>
    <p>Nothing is at this address. Check the link; the page may have been deleted.</p>
    <p>
      <Link to="/">Go to Desk</Link>
    </p>
  </main>
);
