import { entries, growth, level, ratio, sum } from './entry.ts';

export const email = entries('email', [
  ['mailsSent', 'count', 'neutral', sum('mailsSent'), 'Emails handed to the email service.'],
  ['mailsDelivered', 'count', 'higher', sum('mailsDelivered'), 'Emails that did not bounce.'],
  ['deliveryRate', 'percent', 'higher', ratio('mailsDelivered', 'mailsSent'), 'Emails delivered ÷ emails sent.'],
  [
    'mailsOpened',
    'count',
    'higher',
    sum('mailsOpened'),
    'Emails opened at least once, as far as email apps report it.',
  ],
  ['openRate', 'percent', 'higher', ratio('mailsOpened', 'mailsDelivered'), 'Emails opened ÷ emails delivered.'],
  ['mailClicks', 'count', 'higher', sum('mailClicks'), 'Emails in which a link was clicked.'],
  ['mailClickRate', 'percent', 'higher', ratio('mailClicks', 'mailsDelivered'), 'Emails clicked ÷ emails delivered.'],
  ['clickToOpen', 'percent', 'higher', ratio('mailClicks', 'mailsOpened'), 'Emails clicked ÷ emails opened.'],
  ['unsubscribes', 'count', 'lower', sum('unsubscribes'), 'People who left a list.'],
  ['unsubscribeRate', 'percent', 'lower', ratio('unsubscribes', 'mailsDelivered'), 'Unsubscribes ÷ emails delivered.'],
  ['listSize', 'count', 'higher', level('listSize'), 'Addresses on the lists, as last known on the period’s last day.'],
  ['listGrowth', 'count', 'higher', growth('listSize'), 'List size on the last day, minus the day before the period.'],
  ['contacted', 'count', 'neutral', sum('contacted'), 'People contacted for the first time.'],
  ['replies', 'count', 'higher', sum('replies'), 'People who replied.'],
  ['replyRate', 'percent', 'higher', ratio('replies', 'contacted'), 'Replies ÷ people contacted.'],
  ['interested', 'count', 'higher', sum('interested'), 'Replies that ask for more information.'],
  ['interestedRate', 'percent', 'higher', ratio('interested', 'replies'), 'Interested replies ÷ all replies.'],
]);
