import { entries, ratio, sum } from './entry.ts';

export const shop = entries('shop', [
  ['orders', 'count', 'higher', sum('orders'), 'Purchases that were completed, on the day of the order.'],
  ['revenue', 'money', 'higher', sum('revenue'), 'What was paid for orders, as the shop reports it.'],
  ['orderRate', 'percent', 'higher', ratio('orders', 'visits'), 'Orders over visits.'],
  ['averageOrder', 'money', 'higher', ratio('revenue', 'orders'), 'Revenue over orders.'],
  ['revenuePerVisit', 'money', 'higher', ratio('revenue', 'visits'), 'Revenue over visits.'],
  ['itemsSold', 'count', 'higher', sum('itemsSold'), 'Pieces sold in all orders.'],
  ['itemsPerOrder', 'decimal', 'higher', ratio('itemsSold', 'orders'), 'Items sold over orders.'],
  ['refunds', 'money', 'lower', sum('refunds'), 'What was paid back, on the day of paying back.'],
]);
