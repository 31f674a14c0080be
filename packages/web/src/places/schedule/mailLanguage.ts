import type { Client, ScheduleInput } from '@chronicon/core/contract';

type Texts = Pick<Client, 'language' | 'mailTexts'>;
type Worded = Pick<ScheduleInput, 'subject' | 'message'>;

const primary = (locale: string): string => locale.split('-')[0]!;

/** What a mail says in a language unless a person words it otherwise. */
export const mailTextOf = ({ mailTexts }: Texts, locale: string) =>
  mailTexts.find((t) => t.language === primary(locale));

/** Whether nobody has worded a mail: it says what all of them say in some language. */
const isStandard = ({ mailTexts }: Texts, { subject, message }: Worded): boolean =>
  mailTexts.some((t) => t.subject === subject && t.message === message);

/** What a change of language changes with it: the mail, unless a person worded it. @param language null for the client's own */
export function withLanguage(
  client: Texts,
  input: Worded,
  language: string | null,
): { language: string | null } & Partial<Worded> {
  const text = mailTextOf(client, language ?? client.language);
  return text && isStandard(client, input) ? { language, subject: text.subject, message: text.message } : { language };
}

/** Whether a mail that a person worded stands under another language than the one that it was worded for. */
export function speaksAnother(
  client: Texts,
  input: Worded & Pick<ScheduleInput, 'language'>,
  initial: Worded & Pick<ScheduleInput, 'language'>,
): boolean {
  const [now, then] = [input, initial].map((i) => primary(i.language ?? client.language));
  const isUntouched = input.subject === initial.subject && input.message === initial.message;
  return now !== then && isUntouched && !isStandard(client, input);
}
