export * from './composeMail.ts';
export * from './content.ts';
export { MAIL_WIDTH, type MailScheme, mailHtml } from './mailHtml.ts';
export { mailPlain } from './mailPlain.ts';
