import { entries, growth, level, ratio, sum, unique } from './entry.ts';

export const social = entries('social', [
  [
    'followers',
    'count',
    'higher',
    level('followers'),
    'People who follow the profiles, as last known on the period’s last day.',
  ],
  [
    'followerGrowth',
    'count',
    'higher',
    growth('followers'),
    'Followers on the last day, less those on the day before the period.',
  ],
  [
    'reach',
    'count',
    'higher',
    unique('reach'),
    'Different people who saw something within the whole period, as the service counted them. Days cannot be added up.',
  ],
  ['postImpressions', 'count', 'higher', sum('postImpressions'), 'Times a post was shown.'],
  ['posts', 'count', 'neutral', sum('posts'), 'Posts published.'],
  ['engagements', 'count', 'higher', sum('engagements'), 'Likes, comments, shares and saves of posts.'],
  [
    'engagementRate',
    'percent',
    'higher',
    ratio('engagements', 'postImpressions'),
    'Engagements over post impressions.',
  ],
  ['socialClicks', 'count', 'higher', sum('socialClicks'), 'Clicks on links in posts.'],
  ['videoViews', 'count', 'higher', sum('videoViews'), 'Plays of videos, by the service’s own rule for a play.'],
]);
