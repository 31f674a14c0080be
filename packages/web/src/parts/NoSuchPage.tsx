import { Link } from 'react-router';

/** What stands at an address that leads nowhere. */
export const NoSuchPage = () => (
  <main className="place">
    <h1>Page not found</h1>
    <p>There is nothing at this address. It may have been typed wrongly, or what was here is gone.</p>
    <p>
      <Link to="/">Go to the Desk</Link>
    </p>
  </main>
);
