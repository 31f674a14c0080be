import { derived, entries, ratio, sum } from './entry.ts';

export const ads = entries('ads', [
  ['adCost', 'money', 'neutral', sum('adCost'), 'What the advertising service charged for clicks and impressions.'],
  ['adImpressions', 'count', 'higher', sum('adImpressions'), 'Times an ad was shown.'],
  ['adClicks', 'count', 'higher', sum('adClicks'), 'Clicks on ads.'],
  ['adClickRate', 'percent', 'higher', ratio('adClicks', 'adImpressions'), 'Ad clicks ÷ ad impressions.'],
  ['costPerClick', 'money', 'lower', ratio('adCost', 'adClicks'), 'Ad spend ÷ ad clicks.'],
  ['costPerThousand', 'money', 'lower', derived('adCost / adImpressions * 1000'), 'Ad spend per thousand impressions.'],
  [
    'adConversions',
    'count',
    'higher',
    sum('adConversions'),
    'Orders, enquiries or calls that the service counts as coming from an ad.',
  ],
  ['adConversionRate', 'percent', 'higher', ratio('adConversions', 'adClicks'), 'Ad conversions ÷ ad clicks.'],
  ['costPerConversion', 'money', 'lower', ratio('adCost', 'adConversions'), 'Ad spend ÷ ad conversions.'],
  ['adValue', 'money', 'higher', sum('adValue'), 'What the service says its conversions were worth.'],
  [
    'returnOnAdSpend',
    'decimal',
    'higher',
    ratio('adValue', 'adCost'),
    'Conversion value ÷ ad spend: 4 means four earned for each one spent.',
  ],
]);
