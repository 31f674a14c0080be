import { join } from 'node:path';
import { z } from 'zod';
import { environmentOf } from './environment.ts';
import { type MailServer, mailServerAt, RFC_WAITS, type SmtpWaits } from './mailServer.ts';
import type { NetworkRules } from './networkRules.ts';
import { CHEAP_COST, FULL_COST, type PasswordCost } from './passwordCost.ts';

/** `2026-11-02` or `2026-11-02T08:00` or a full instant: where the clock of a demo or test begins. */
const today = z
  .string()
  .transform((t) => (/^\d{4}-\d\d-\d\d$/.test(t) ? `${t}T08:00:00Z` : /T\d\d:\d\d$/.test(t) ? `${t}:00Z` : t))
  .pipe(z.iso.datetime());

const environment = z.object({
  CHRONICON_DATA: z.string().default('data'),
  CHRONICON_PORT: z.coerce.number().int().min(0).max(65_535).default(4300),
  CHRONICON_MODE: z.enum(['production', 'demo', 'test']).default('production'),
  CHRONICON_TODAY: today.optional(),
  /** Where mails are handed over; left out, an owner sets it in the interface. */
  CHRONICON_SMTP: z.url({ protocol: /^smtps?$/ }).optional(),
  /** Whether lines to the mail server are encrypted: where it offers it, always, or never. */
  CHRONICON_SMTP_TLS: z.enum(['offered', 'require', 'never']).default('offered'),
  /** Tests alone: seconds to wait for an answer, for a part of a mail to be taken, and after the last dot. */
  CHRONICON_SMTP_WAITS: z
    .string()
    .regex(/^\d+(\.\d+)?(,\d+(\.\d+)?){2}$/)
    .optional(),
  /** Proxies before this server whose word on addresses counts: a number of hops, `loopback`, or addresses. */
  CHRONICON_TRUST_PROXY: z.string().optional(),
  /** Seconds for which browsers are told to come by TLS alone; none by default. */
  CHRONICON_HSTS: z.coerce.number().int().min(0).optional(),
  /** Seconds in which a send of a person can be undone before the first mail goes. */
  CHRONICON_UNDO: z.coerce.number().int().min(0).max(300).default(30),
  /** `off`: managers and owners are told of nothing by mail. */
  CHRONICON_NOTICES: z.enum(['on', 'off']).default('on'),
  /** What a copied data folder does outside production: `go` on, or `stop` sending until a person says go. */
  CHRONICON_COPY: z.enum(['go', 'stop']).optional(),
  /** Seconds without a heartbeat after which other servers on the folder take over. */
  CHRONICON_PATIENCE: z.coerce.number().min(1).max(600).optional(),
  /** `yes`: several servers share the data folder; in production one is alone on it unless that is said. */
  CHRONICON_MANY: z.enum(['yes', 'no']).optional(),
  CHRONICON_FEEDS: z.url().optional(),
  /** Networks beside the public ones that feeds may be fetched from: `loopback`, `private`, or both. */
  CHRONICON_FEED_NETWORKS: z
    .string()
    .regex(/^((loopback|private)(,|$))*$/, 'Name loopback, private, or both with a comma between.')
    .optional(),
  /** Where members reach this server; what services send a browser back to after authorisation. */
  CHRONICON_URL: z.url().optional(),
  /** Folder whose folders are watched for files, one for each feed of files; by default `inbox` in the data folder. */
  CHRONICON_INBOX: z.string().optional(),
  CHRONICON_SIMULATORS: z.url().optional(),
  /** Milliseconds after which a silent feed service is given up. */
  CHRONICON_TIMEOUT: z.coerce.number().int().min(100).default(20_000),
  /** Where this server itself takes mails that come back, by SMTP; left out, it takes none. */
  CHRONICON_BOUNCE_PORT: z.coerce.number().int().min(0).max(65_535).optional(),
  CHRONICON_LOG: z.enum(['silent', 'error', 'warn', 'info', 'debug']).default('info'),
  /** Tests alone: where the process is to be killed. */
  CHRONICON_CRASH_AT: z.string().optional(),
  CHRONICON_WEB: z.string().optional(),
});

export interface Config {
  /** Folder of the databases, files and key. */
  data: string;
  port: number;
  mode: 'production' | 'demo' | 'test';
  today: string | null;
  /** The mail server that the environment names; null where an owner sets it. */
  mailServer: MailServer | null;
  smtpWaits: SmtpWaits;
  passwordCost: PasswordCost;
  /** As Express takes it; null trusts nobody. */
  trustProxy: string | number | null;
  hsts: number | null;
  /** Milliseconds in which a send of a person can be undone. */
  undo: number;
  notices: boolean;
  /** Whether a copied data folder sends nothing until a person says so. */
  copyStops: boolean;
  /** Milliseconds without a heartbeat after which a server is taken for dead. */
  patience: number;
  /** Whether it starts only where no other server runs on the folder. */
  alone: boolean;
  /** Where feed services are found, each under its kind. */
  feeds: string | null;
  network: NetworkRules;
  /** Where members reach this server; null: wherever their browser says. */
  url: string | null;
  inbox: string;
  simulators: string | null;
  timeout: number;
  /** Where mails that come back are taken by SMTP; null: nowhere. */
  bouncePort: number | null;
  log: z.infer<typeof environment>['CHRONICON_LOG'];
  crashAt: string | null;
  /** Folder of the built interface; null serves none. */
  web: string | null;
  /** What the environment says, as the interface shows it. */
  environment: ReturnType<typeof environmentOf>;
}

const waitsFrom = (text: string): SmtpWaits => {
  const [answer, content, dot] = text.split(',').map((s) => Number(s) * 1000);
  return { answer: answer!, content: content!, dot: dot! };
};

/** A number counts hops; anything else names addresses. */
const proxyOf = (text: string | undefined): string | number | null =>
  text === undefined || text === '' ? null : /^\d+$/.test(text) ? Number(text) : text;

/** What a variable was called before, by its name now: a set-up that was written then goes on working. */
const FORMER_NAMES = { CHRONICON_SIMULATORS: 'CHRONICON_STANDINS' };

/** Reads the set-up from environment variables. @throws Error that names the variable at fault */
export function readConfig(env: Record<string, string | undefined>): Config {
  const former = Object.entries(FORMER_NAMES).map(([now, before]) => [now, env[now] || env[before]] as const);
  // What is set to nothing is not set.
  const set = [...Object.entries(env), ...former].filter(([, value]) => value !== '');
  const parsed = environment.safeParse(Object.fromEntries(set));
  if (!parsed.success) {
    const issue = parsed.error.issues[0]!;
    throw new Error(`${issue.path.join('.')}: ${issue.message}`);
  }
  const e = parsed.data;
  return {
    data: e.CHRONICON_DATA,
    port: e.CHRONICON_PORT,
    mode: e.CHRONICON_MODE,
    today: e.CHRONICON_MODE === 'production' ? null : (e.CHRONICON_TODAY ?? null),
    mailServer: e.CHRONICON_SMTP ? mailServerAt(e.CHRONICON_SMTP, e.CHRONICON_SMTP_TLS) : null,
    smtpWaits: e.CHRONICON_MODE === 'test' && e.CHRONICON_SMTP_WAITS ? waitsFrom(e.CHRONICON_SMTP_WAITS) : RFC_WAITS,
    passwordCost: e.CHRONICON_MODE === 'test' ? CHEAP_COST : FULL_COST,
    trustProxy: proxyOf(e.CHRONICON_TRUST_PROXY),
    hsts: e.CHRONICON_HSTS ?? null,
    undo: e.CHRONICON_UNDO * 1_000,
    notices: e.CHRONICON_NOTICES === 'on',
    copyStops: (e.CHRONICON_COPY ?? (e.CHRONICON_MODE === 'production' ? 'stop' : 'go')) === 'stop',
    patience: (e.CHRONICON_PATIENCE ?? 20) * 1000,
    alone: e.CHRONICON_MODE === 'production' && e.CHRONICON_MANY !== 'yes',
    feeds: e.CHRONICON_FEEDS ?? null,
    // The simulators of a demo are on this machine.
    network: {
      loopback: e.CHRONICON_MODE !== 'production' || (e.CHRONICON_FEED_NETWORKS ?? '').includes('loopback'),
      private: (e.CHRONICON_FEED_NETWORKS ?? '').includes('private'),
    },
    url: e.CHRONICON_URL ?? null,
    inbox: e.CHRONICON_INBOX ?? join(e.CHRONICON_DATA, 'inbox'),
    simulators: e.CHRONICON_SIMULATORS ?? null,
    timeout: e.CHRONICON_TIMEOUT,
    bouncePort: e.CHRONICON_BOUNCE_PORT ?? null,
    log: e.CHRONICON_LOG,
    crashAt: e.CHRONICON_MODE === 'test' ? (e.CHRONICON_CRASH_AT ?? null) : null,
    web: e.CHRONICON_WEB ?? null,
    environment: environmentOf(env),
  };
}
