import { json, Router, urlencoded } from 'express';
import { z } from 'zod';
import type { SimulatorClock } from './clock.ts';
import type { Keep } from './keep.ts';
import { MAIL_FAULTS, type SmtpSimulator } from './mailbox/smtp.ts';
import { escapeHtml, page } from './page.ts';
import { FAULT_WORDS, FAULTS, type Faults } from './services/faults.ts';
import type { Grants } from './services/grants.ts';
import { SERVICES } from './services/registry.ts';
import type { Requests } from './services/requests.ts';
import type { ServiceKind } from './services/serviceKind.ts';

const options = (values: readonly string[], chosen: string, label: (v: string) => string) =>
  values.map((v) => `<option value="${v}"${v === chosen ? ' selected' : ''}>${escapeHtml(label(v))}</option>`).join('');

const form = (action: string, select: string) =>
  `<form method="post" action="${action}"><select name="fault">${select}</select> <button>Set</button></form>`;

export interface Administered {
  faults: Faults;
  grants: Grants;
  requests: Requests;
  smtp: SmtpSimulator;
  clock: SimulatorClock;
  keep: Keep;
  /** The token that takes the place of the one that was set up. */
  nextToken: string;
}

/** Where the services are told how to behave: a page for people, an API for tests. */
export function adminPages({ faults, grants, requests, smtp, clock, keep, nextToken }: Administered): Router {
  const router = Router();
  router.use(urlencoded({ extended: false }), json());

  router.get('/admin', (_req, res) => {
    const tableOf = ({ kind, label, accounts }: ServiceKind) => {
      const rows = accounts.map(
        (a) =>
          `<tr><td>${escapeHtml(a.name)}</td><td>${a.id}</td><td>since ${a.firstDay}</td><td>${form(
            `/admin/accounts/${a.id}`,
            options(FAULTS, faults.of(a.id), (f) => FAULT_WORDS[f as keyof typeof FAULT_WORDS]),
          )}</td></tr>`,
      );
      return `<h2>${escapeHtml(label)}</h2>
<form method="post" action="/admin/services/${kind}">${requests.made(kind)} requests today.
<button name="revoke" value="yes">Take back all access granted</button></form>
<table><thead><tr><th>Account</th><th>Number</th><th>Measured</th><th>Behaviour</th></tr></thead><tbody>${rows.join('')}</tbody></table>`;
    };
    res.send(
      page(
        'Services',
        `<h1>Services</h1><p>It is ${clock.now().toISOString().slice(0, 16).replace('T', ' ')} UTC here.</p>
<p>Where a token was revoked, authorise again, or give <code>${escapeHtml(nextToken)}</code>.</p>
${SERVICES.map(tableOf).join('')}
<h2>Mail server</h2>
<table><tbody><tr><td>The server</td><td>${form(
          '/admin/mail',
          options(MAIL_FAULTS, smtp.fault, (f) => f),
        )}</td></tr></tbody></table>`,
      ),
    );
  });

  router.post('/admin/accounts/:account', (req, res) => {
    const body = z.object({ fault: z.enum(FAULTS) }).parse(req.body);
    faults.set(req.params.account, body.fault);
    if (req.is('json')) res.json({ done: true });
    else res.redirect('/admin');
  });
  router.post('/admin/services/:kind', (req, res) => {
    const body = z.object({ revoke: z.string().optional(), limit: z.coerce.number().int().min(0).optional() });
    const { revoke, limit } = body.parse(req.body);
    if (revoke) grants.revoke(req.params.kind);
    if (limit !== undefined) requests.setLimit(req.params.kind, limit);
    if (req.is('json')) res.json({ done: true });
    else res.redirect('/admin');
  });
  router.post('/admin/mail', async (req, res) => {
    const body = z
      .object({
        fault: z.enum(MAIL_FAULTS).optional(),
        refused: z.array(z.string()).optional(),
        bouncing: z.record(z.string(), z.string().regex(/^[245]\.\d+\.\d+$/)).optional(),
        backTo: z.coerce.number().int().min(1).max(65_535).optional(),
      })
      .parse(req.body);
    if (body.fault) await smtp.setFault(body.fault);
    if (body.refused) {
      smtp.refused.clear();
      for (const address of body.refused) smtp.refused.add(address.toLowerCase());
      keep.write('mail.refused', [...smtp.refused]);
    }
    if (body.bouncing) {
      smtp.bouncing.clear();
      for (const [address, status] of Object.entries(body.bouncing)) smtp.bouncing.set(address.toLowerCase(), status);
    }
    if (body.backTo) smtp.backTo = body.backTo;
    if (req.is('json')) res.json({ done: true });
    else res.redirect('/admin');
  });
  router.post('/control/clock', (req, res) => {
    clock.setOffset(z.object({ offset: z.number() }).parse(req.body).offset);
    res.json({ now: clock.now().toISOString() });
  });
  return router;
}
