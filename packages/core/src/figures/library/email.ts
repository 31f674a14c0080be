import { entries, growth, level, ratio, sum } from './entry.ts';

export const email = entries('email', [
  ['mailsSent', 'count', 'neutral', sum('mailsSent'), 'Mails handed to the mail service.'],
  ['mailsDelivered', 'count', 'higher', sum('mailsDelivered'), 'Mails that were not returned.'],
  ['deliveryRate', 'percent', 'higher', ratio('mailsDelivered', 'mailsSent'), 'Mails delivered over mails sent.'],
  [
    'mailsOpened',
    'count',
    'higher',
    sum('mailsOpened'),
    'Mails that were opened at least once, as far as mail programs tell.',
  ],
  ['openRate', 'percent', 'higher', ratio('mailsOpened', 'mailsDelivered'), 'Mails opened over mails delivered.'],
  ['mailClicks', 'count', 'higher', sum('mailClicks'), 'Mails in which a link was clicked.'],
  ['mailClickRate', 'percent', 'higher', ratio('mailClicks', 'mailsDelivered'), 'Mails clicked over mails delivered.'],
  ['clickToOpen', 'percent', 'higher', ratio('mailClicks', 'mailsOpened'), 'Mails clicked over mails opened.'],
  ['unsubscribes', 'count', 'lower', sum('unsubscribes'), 'People who left a list.'],
  [
    'unsubscribeRate',
    'percent',
    'lower',
    ratio('unsubscribes', 'mailsDelivered'),
    'Unsubscribes over mails delivered.',
  ],
  ['listSize', 'count', 'higher', level('listSize'), 'Addresses on the lists, as last known on the period’s last day.'],
  [
    'listGrowth',
    'count',
    'higher',
    growth('listSize'),
    'List size on the last day, less that on the day before the period.',
  ],
  ['contacted', 'count', 'neutral', sum('contacted'), 'People who were written to for the first time.'],
  ['replies', 'count', 'higher', sum('replies'), 'People who wrote back.'],
  ['replyRate', 'percent', 'higher', ratio('replies', 'contacted'), 'Replies over people contacted.'],
  ['interested', 'count', 'higher', sum('interested'), 'Replies that want to know more.'],
  ['interestedRate', 'percent', 'higher', ratio('interested', 'replies'), 'Interested replies over all replies.'],
]);
