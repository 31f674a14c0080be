import { rehearseTransactions } from '../packages/server/src/store/transactions.ts';

rehearseTransactions();
