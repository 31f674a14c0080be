/** A request that cannot be served, with a sentence for the person and, where it helps, for single fields. */
export class Refusal extends Error {
  constructor(
    readonly status: number,
    message: string,
    readonly fields: Record<string, string> = {},
  ) {
    super(message);
  }
}

export const notFound = (what: string): Refusal => new Refusal(404, `${what} not found, or you don’t have access.`);

/** Input that is at fault at one field. */
export const atField = (field: string, message: string): Refusal => new Refusal(422, message, { [field]: message });

/** A refusal in one sentence, for what is told beside other things. @throws `err` itself where it is none */
export function refusalText(err: unknown): string {
  if (err instanceof Refusal) return Object.values(err.fields)[0] ?? err.message;
  throw err;
}
