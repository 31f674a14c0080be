import { messageIdOf } from '@chronicon/core/edition';
import { escapeHtml } from '@chronicon/core/report';
import type { Logger } from 'pino';
import type { Clock } from '../platform/clock.ts';
import { newId } from '../store/ids.ts';
import { agencyOf } from '../store/members.ts';
import type { Store } from '../store/store.ts';
import type { Mailer } from './mailer.ts';
import type { Handed } from './outcome.ts';

/** What is said to a member by mail: plain sentences, and where to press. */
export interface Letter {
  to: { name: string; email: string };
  subject: string;
  /** Paragraphs are divided by an empty line. */
  text: string;
  /** An address of this server that the letter leads to, on a line of its own. */
  link?: string | undefined;
}

export interface LetterTools {
  store: Store;
  clock: Clock;
  log: Logger;
  notices: Mailer;
}

const htmlOf = ({ text, link }: Letter): string => {
  const said = text.split('\n\n').map((part) => `<p>${escapeHtml(part).replace(/\n/g, '<br>')}</p>`);
  const address = link === undefined ? [] : [`<p><a href="${escapeHtml(link)}">${escapeHtml(link)}</a></p>`];
  return [...said, ...address].join('');
};

/** Hands a letter to the mail server, in the agency's name. What is not taken is logged: the caller says who learns of it. */
export async function sendLetter(tools: LetterTools, letter: Letter, signal?: AbortSignal): Promise<Handed> {
  const { store, clock, log, notices } = tools;
  const agency = (await agencyOf(store))!;
  const domain = agency.mailFrom.split('@')[1] ?? 'localhost';
  const handed = await notices.send(
    {
      messageId: messageIdOf(newId('lg'), 'letter', 0, domain),
      from: { name: agency.name, address: agency.mailFrom },
      to: { name: letter.to.name, address: letter.to.email },
      subject: letter.subject,
      text: `${[letter.text, letter.link].filter(Boolean).join('\n\n')}\n`,
      html: htmlOf(letter),
      date: new Date(clock.now()),
    },
    signal,
  );
  if (handed.kind !== 'accepted') log.warn({ handed, subject: letter.subject }, 'a letter to a member was not taken');
  return handed;
}
