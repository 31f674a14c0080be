import { sendLetter } from '../mail/letters.ts';
import type { Member } from '../store/members.ts';
import type { Api } from './context.ts';

/** Where links of mails lead: where members reach this server, as it was told or as it knows itself. */
export const homeOf = (api: Pick<Api, 'config' | 'origins'>): string =>
  api.config.url ?? [...api.origins].at(-1) ?? 'http://localhost';

/** Tells a member by mail what happened to their sign-in; whoever asked for it does not wait for the mail server. */
export function tellMember(api: Api, member: Member, subject: string, text: string): void {
  if (!api.config.notices) return;
  const greeting = `Hello ${member.name},\n\n${text}`;
  sendLetter(api, { to: member, subject, text: greeting }).catch((err) =>
    api.log.error({ err }, 'a letter about a sign-in could not be sent'),
  );
}

/** What a person does who did not do it themselves. */
export const NOT_YOU = 'If this wasn’t you, contact an owner of your agency immediately.';
