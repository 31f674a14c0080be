import { entries, ratio, sum } from './entry.ts';

export const shop = entries('shop', [
  ['orders', 'count', 'higher', sum('orders'), 'Completed purchases, on the day of the order.'],
  ['revenue', 'money', 'higher', sum('revenue'), 'Order value as the shop reports it.'],
  ['orderRate', 'percent', 'higher', ratio('orders', 'visits'), 'Orders ÷ visits.'],
  ['averageOrder', 'money', 'higher', ratio('revenue', 'orders'), 'Revenue ÷ orders.'],
  ['revenuePerVisit', 'money', 'higher', ratio('revenue', 'visits'), 'Revenue ÷ visits.'],
  ['itemsSold', 'count', 'higher', sum('itemsSold'), 'Items in all orders.'],
  ['itemsPerOrder', 'decimal', 'higher', ratio('itemsSold', 'orders'), 'Items sold ÷ orders.'],
  ['refunds', 'money', 'lower', sum('refunds'), 'Amount refunded, on the day of the refund.'],
]);
