import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import type { Page } from 'puppeteer-core';

const AXE = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8');

interface Violation {
  id: string;
  impact: string | null;
  nodes: { html: string }[];
}

/**
 * What axe finds on the page that is serious or critical: the rule, and the first element at fault.
 * @param but what was looked at before and is the same
 */
export async function seriousFaults(page: Page, but: readonly string[] = []): Promise<string[]> {
  if (!(await page.evaluate(() => 'axe' in globalThis))) await page.evaluate(AXE);
  const violations = await page.evaluate(async (exclude) => {
    const { axe } = globalThis as unknown as {
      axe: { run(on: object, how: object): Promise<{ violations: Violation[] }> };
    };
    return (await axe.run({ include: [document], exclude }, { resultTypes: ['violations'] })).violations;
  }, but as string[]);
  return violations
    .filter((v) => v.impact === 'serious' || v.impact === 'critical')
    .flatMap((v) => v.nodes.map((n) => `${v.id}: ${n.html.slice(0, 240)}`));
}
