import { entries, ratio, sum } from './entry.ts';

export const leads = entries('leads', [
  ['leads', 'count', 'higher', sum('leads'), 'Enquiries by form, email or booking that the site counted.'],
  ['leadRate', 'percent', 'higher', ratio('leads', 'visits'), 'Enquiries ÷ visits.'],
  ['qualifiedLeads', 'count', 'higher', sum('qualifiedLeads'), 'Enquiries marked as worth following up.'],
  ['qualifiedShare', 'percent', 'higher', ratio('qualifiedLeads', 'leads'), 'Qualified enquiries ÷ all enquiries.'],
]);
