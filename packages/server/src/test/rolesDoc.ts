import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { EVERYONE, FILE_ROUTES, MAKERS, ROLE_TABLE, type Role, type Route, routes } from '@chronicon/core/contract';

const FILE = join(import.meta.dirname, '../../../../docs/roles.md');

const cells = (roles: readonly Role[] | 'open'): string =>
  EVERYONE.map((r) => (roles === 'open' || roles.includes(r) ? 'yes' : '–')).join(' | ');
const HEAD = `| | ${EVERYONE.join(' | ')} |\n| --- | ${EVERYONE.map(() => '---').join(' | ')} |`;

const SETS = { owners: ['owner'] as const, makers: MAKERS, everyone: EVERYONE, secret: 'open' } as const;

/** The table of roles as the documentation holds it: in words, then route by route. */
export function rolesDoc(): string {
  const words = ROLE_TABLE.map(({ label, roles }) => `| ${label} | ${cells(roles)} |`);
  const ownRoutes = (Object.entries(routes) as [string, Route][]).map(
    ([name, route]) =>
      `| \`${name}\` ${route.about}${route.roles === 'open' ? ' (without signing in)' : ''} | ${cells(route.roles)} |`,
  );
  const files = Object.entries(FILE_ROUTES).map(
    ([name, set]) =>
      `| \`${name}\` (a file)${set === 'secret' ? ' (a key in the address is asked for)' : ''} | ${cells(SETS[set])} |`,
  );
  return `# Who may do what

Owners see every client; others see only the clients assigned to them. A change of role, assignment or state takes effect in open
sessions immediately. \`npm run roles\` writes this page; a test compares it with the contract and calls every route as every
role.

## In words

${[HEAD, ...words].join('\n')}

## Route by route

${[HEAD, ...ownRoutes, ...files].join('\n')}
`;
}

if (process.argv[1] === fileURLToPath(import.meta.url)) writeFileSync(FILE, rolesDoc());
