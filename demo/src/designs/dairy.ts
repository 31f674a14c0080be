import { type Design, words } from './design.ts';

/** A shop, what is said of it, and by whom. */
export const dairy: Design = {
  pages: [
    {
      title: 'The shop',
      rows: [
        [{ kind: 'opening', metric: 'revenue', dimension: 'channel' }],
        [words()],
        [{ kind: 'kpiRow', metrics: ['visits', 'orders', 'revenue', 'averageOrder'] }],
        [{ kind: 'trend', metric: 'revenue', title: '' }],
        [
          { kind: 'ranking', dimension: 'channel', metrics: ['revenue'], n: 5, title: '' },
          { kind: 'drivers', metric: 'revenue', dimension: 'channel', n: 5, title: '' },
        ],
      ],
    },
    {
      title: 'What people say',
      rows: [
        [{ kind: 'heading', text: 'Posts that carried, and those that did not' }],
        [{ kind: 'standouts', metric: 'postEngagements', dimension: 'post', ends: 'both', n: 4, title: '' }],
        [
          { kind: 'peers', metric: 'followers', theirs: 'competitorFollowers', dimension: 'competitor', title: '' },
          { kind: 'topics', metric: 'topicPosts', dimension: 'hashtag', n: 6, title: '' },
        ],
        [{ kind: 'trend', metric: 'engagements', more: ['followers'], title: '' }],
      ],
    },
    {
      title: 'Letters to customers',
      rows: [
        [{ kind: 'heading', text: 'Letters to customers' }],
        [{ kind: 'kpiRow', metrics: ['mailsSent', 'openRate', 'clickToOpen', 'listSize'] }],
        [
          {
            kind: 'ranking',
            dimension: 'mailing',
            metrics: ['mailsDelivered', 'openRate', 'mailClickRate', 'unsubscribeRate'],
            n: 8,
            title: '',
          },
        ],
        [{ kind: 'trend', metric: 'mailClicks', shape: 'columns', step: 'week', title: '' }],
        [{ kind: 'trend', metric: 'listSize', title: '' }],
      ],
    },
  ],
};
