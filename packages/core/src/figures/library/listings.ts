import { derived, entries, sum, weighted } from './entry.ts';

export const listings = entries('listings', [
  ['listingSearches', 'count', 'higher', sum('listingSearches'), 'Searches that showed a local listing.'],
  ['listingViews', 'count', 'higher', sum('listingViews'), 'Views of local listings.'],
  ['directionRequests', 'count', 'higher', sum('directionRequests'), 'Requests for directions to a location.'],
  ['listingCalls', 'count', 'higher', sum('listingCalls'), 'Calls begun from a listing.'],
  ['listingClicks', 'count', 'higher', sum('listingClicks'), 'Clicks from a listing to the website.'],
  [
    'listingActions',
    'count',
    'higher',
    derived('directionRequests + listingCalls + listingClicks'),
    'Direction requests, calls and website clicks combined.',
  ],
  ['rating', 'decimal', 'higher', weighted('rating', 'ratings'), 'Average of the ratings received in the period.'],
  ['ratings', 'count', 'higher', sum('ratings'), 'Ratings received in the period.'],
]);
