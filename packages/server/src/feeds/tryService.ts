import { type Finding, tryService } from './conformance.ts';

/** Tries a feed service from the command line: address, account and token. Exits with 1 when a rule is broken. */
const [address, account, token] = process.argv.slice(2);
if (!address || !account || !token || !URL.canParse(address)) {
  console.error('Usage: npm run conformance -- ADDRESS ACCOUNT TOKEN');
  console.error('As:    npm run conformance -- https://place.example/feeds/calls/v1 ca-3310 the-token');
  process.exit(2);
}
const findings: Finding[] = [];
const now = process.env.CHRONICON_TODAY ?? new Date().toISOString();
for await (const finding of tryService({ address, account, token, now })) {
  findings.push(finding);
  console.log(
    finding.fault === null ? `  kept    ${finding.rule}` : `  BROKEN  ${finding.rule}\n          ${finding.fault}`,
  );
}
const failed = findings.filter((f) => f.fault !== null).length;
console.log(`${findings.length - failed} passed, ${failed} failed`);
process.exit(failed > 0 ? 1 : 0);
