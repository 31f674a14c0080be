import { entries, ratio, sum } from './entry.ts';

export const leads = entries('leads', [
  ['leads', 'count', 'higher', sum('leads'), 'Enquiries by form, mail or booking that the site counted.'],
  ['leadRate', 'percent', 'higher', ratio('leads', 'visits'), 'Enquiries over visits.'],
  ['qualifiedLeads', 'count', 'higher', sum('qualifiedLeads'), 'Enquiries that somebody marked as worth following up.'],
  ['qualifiedShare', 'percent', 'higher', ratio('qualifiedLeads', 'leads'), 'Qualified enquiries over all enquiries.'],
]);
