/** Drawing or reckoning took longer than it may; nothing of it was kept. */
export class BudgetError extends Error {
  constructor(readonly seconds: number) {
    super(`this took longer than ${seconds} seconds`);
  }
}
