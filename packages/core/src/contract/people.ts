import { z } from 'zod';
import { civilDate } from '../report/specs.ts';
import { done, EVERYONE, MANAGERS, ROLES, route } from './route.ts';
import { mailAddress, memberName } from './session.ts';

const OWNERS = ['owner'] as const;

const role = z.enum(ROLES);
const named = z.object({ id: z.string(), name: z.string() });
const clientIds = z.array(z.string().max(40)).max(5_000);

const memberRow = z.object({
  id: z.string(),
  name: z.string(),
  email: z.string(),
  role,
  /** `invited` until the invitation is taken; `inactive` members cannot sign in. */
  state: z.enum(['active', 'invited', 'inactive']),
  factor: z.boolean(),
  /** When they were last here; null where they have no session any more. */
  seen: z.string().nullable(),
  /** Clients that they see, beside all for an owner; and those that they manage. */
  clients: z.array(named),
  manages: z.array(named),
  /** Until when the invitation can be taken; null where there is none. */
  invitedUntil: z.string().nullable(),
});
export type MemberRow = z.infer<typeof memberRow>;

const memberInput = z.object({ name: memberName, role, clients: clientIds });
export const invitation = memberInput.extend({ email: mailAddress });
export type Invitation = z.infer<typeof invitation>;

const delegation = z.object({
  id: z.string(),
  from: named,
  to: named,
  clients: z.array(named),
  /** The last day on which they are in the colleague's hands, by the agency's clock. */
  through: z.string(),
});
export type Delegation = z.infer<typeof delegation>;

const ability = z.object({ label: z.string(), roles: z.array(role).readonly() });

export const peopleRoutes = {
  'GET /api/roles': route({
    about: 'What each role may do, in words.',
    roles: EVERYONE,
    reply: z.array(ability),
  }),
  'GET /api/colleagues': route({
    about: 'Active members, for choosing someone.',
    roles: EVERYONE,
    reply: z.array(named.extend({ role })),
  }),
  'GET /api/members': route({
    about: 'All members, past and present.',
    roles: OWNERS,
    reply: z.array(memberRow),
  }),
  'POST /api/members': route({
    about: 'Invite a member by email; the link works once, for three days.',
    roles: OWNERS,
    body: invitation,
    reply: z.object({ member: memberRow, sent: z.string().nullable() }),
  }),
  'POST /api/members/:member/invitation': route({
    about: 'Resend an invitation; the earlier link stops working.',
    roles: OWNERS,
    reply: z.object({ sent: z.string().nullable() }),
  }),
  'PUT /api/members/:member': route({
    about: 'Change a member’s name, role and clients, effective immediately.',
    roles: OWNERS,
    body: memberInput,
    reply: memberRow,
  }),
  'GET /api/members/:member/holdings': route({
    about: 'What a member is responsible for, to be handed over before they leave.',
    roles: OWNERS,
    reply: z.object({
      manages: z.array(named),
      schedules: z.int(),
      waiting: z.array(z.object({ id: z.string(), label: z.string() })),
      connections: z.int(),
    }),
  }),
  'PUT /api/members/:member/active': route({
    about: 'Deactivate a member and hand over their clients, or reactivate them.',
    roles: OWNERS,
    body: z.object({ active: z.boolean(), to: z.string().nullable().default(null) }),
    reply: memberRow,
  }),
  'DELETE /api/members/:member/factor': route({
    about: 'Turn off two-factor authentication of a member who lost it; they get an email.',
    roles: OWNERS,
    reply: done,
  }),
  'GET /api/delegations': route({
    about: 'Clients that are temporarily handed over.',
    roles: MANAGERS,
    reply: z.array(delegation),
  }),
  'POST /api/delegations': route({
    about: 'Hand over clients to a colleague, until a date or permanently: your own or, as an owner, anyone’s.',
    roles: MANAGERS,
    body: z.object({
      from: z.string(),
      to: z.string(),
      clients: clientIds.min(1, 'Choose at least one client.'),
      /** Left out: for good. */
      through: civilDate.nullable(),
    }),
    reply: done,
  }),
  'DELETE /api/delegations/:delegation': route({
    about: 'Take clients back early.',
    roles: MANAGERS,
    reply: done,
  }),
};
