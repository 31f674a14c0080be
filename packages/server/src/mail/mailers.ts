import { createPrivateKey } from 'node:crypto';
import type { Config } from '../platform/config.ts';
import type { DkimKey, MailServer } from '../platform/mailServer.ts';
import { faultOf } from '../store/faults.ts';
import { dkimKey } from '../store/mailRules.ts';
import { type MailServerUse, mailServerOf } from '../store/mailServers.ts';
import type { Secrets } from '../store/secrets.ts';
import { sendingStops } from '../store/sendingStops.ts';
import type { Store } from '../store/store.ts';
import { createMailer, type Mailer } from './mailer.ts';
import type { Handed } from './outcome.ts';

interface Tools {
  store: Store;
  secrets: Secrets;
  config: Pick<Config, 'mailServer' | 'smtpWaits'>;
}

const NONE: Handed = {
  kind: 'server',
  reason: 'No mail server is set up yet.',
  mend: 'An owner can do that under Settings, Email. Sending then resumes automatically.',
};

type Stop = Extract<Handed, { kind: 'server' }>;

/** What was kept sealed and does not open any more: no mail would go, whoever it is for. */
const DAMAGED: Record<'password' | 'dkim', Stop> = {
  password: {
    kind: 'server',
    reason: 'The stored mail server password is damaged.',
    mend: 'Enter it again under Settings, Email. Sending then resumes automatically.',
  },
  dkim: {
    kind: 'server',
    reason: 'The stored DKIM key is damaged.',
    mend: 'Create a new one under Settings, Email, or stop signing. Sending then resumes automatically.',
  },
};

const isStop = (found: object | null): found is Stop => found !== null && 'kind' in found && found.kind === 'server';

/** @throws KeyError where the key itself is missing: that stops more than mails */
async function opened<T>(what: keyof typeof DAMAGED, read: () => Promise<T>): Promise<T | Stop> {
  try {
    return await read();
  } catch (error) {
    if (faultOf(error)) throw error;
    return DAMAGED[what];
  }
}

/** The mail server that is used: what the environment names, else what an owner set; null where there is none. */
export async function mailServerInUse(
  { store, secrets, config }: Tools,
  use: MailServerUse,
): Promise<MailServer | null> {
  if (use === 'main' && config.mailServer) return config.mailServer;
  const kept = await mailServerOf(store, use);
  if (!kept) return null;
  const { secret, ...server } = kept;
  return { ...server, password: secret === '' ? '' : secrets.open(secret) };
}

/** Where mails go out: whichever mail server is set at the moment in which one is handed over. */
export interface Mailers {
  /** Reports: by the agency's mail server alone. */
  mailer: Mailer;
  /** Letters to members: by the second server, where there is one, when the first is what is wrong. */
  notices: Mailer;
}

export function createMailers(tools: Tools): Mailers {
  /** Lines are kept for the next mail as long as nobody changes where mails go, or how they are signed. */
  const known = new Map<MailServerUse, { of: string; mailer: Mailer }>();
  const mailerFor = (use: MailServerUse, server: MailServer, dkim: DkimKey | null): Mailer => {
    const of = JSON.stringify([server, dkim]);
    const found = known.get(use);
    if (found?.of === of) return found.mailer;
    // The library would leave mails unsigned, and say nothing, where what was kept is no key.
    if (dkim) createPrivateKey(dkim.privateKey);
    found?.mailer.close();
    const mailer = createMailer(server, tools.config.smtpWaits, dkim);
    known.set(use, { of, mailer });
    return mailer;
  };
  const through = async (use: MailServerUse, ...[mail, signal]: Parameters<Mailer['send']>): Promise<Handed> => {
    const server = await opened('password', () => mailServerInUse(tools, use));
    if (server === null) return NONE;
    if (isStop(server)) return server;
    const mailer = await opened('dkim', async () =>
      mailerFor(use, server, await dkimKey(tools.store, tools.secrets, mail.signedBy)),
    );
    return isStop(mailer) ? mailer : mailer.send(mail, signal);
  };
  const close = () => {
    for (const { mailer } of known.values()) mailer.close();
    known.clear();
  };
  return {
    mailer: { send: (...mail) => through('main', ...mail), close },
    notices: {
      async send(...mail) {
        const second = (await mailServerOf(tools.store, 'notices')) !== null;
        const broken = second && (await sendingStops(tools.store)).some((s) => s.cause === 'mail-server');
        const [first, other]: MailServerUse[] = broken ? ['notices', 'main'] : ['main', 'notices'];
        const handed = await through(first!, ...mail);
        return second && handed.kind === 'server' ? through(other!, ...mail) : handed;
      },
      close,
    },
  };
}
